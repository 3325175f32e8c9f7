// What is drawn over a picture: in one frame, in its order, and only what can be seen.
import { createOverlay } from './overlay';
import { marksInSight } from './drawMarks';
import type { Camera } from './camera';

const camera: Camera = { originX: 0, originY: 0, zoom: 1, width: 400, height: 300 };

function openOverlay() {
  const frames: (() => void)[] = [];
  const calls: string[] = [];
  const context = {
    ...{ setTransform: () => undefined, clearRect: () => calls.push('clear') },
    ...{ save: () => undefined, restore: () => undefined },
  };
  const canvas = { width: 800, height: 600, getContext: () => context } as unknown as HTMLCanvasElement;
  const overlay = createOverlay(
    canvas,
    () => camera,
    (run) => frames.push(run),
  );
  return { overlay, calls, frames, draw: () => frames.splice(0).forEach((run) => run()) };
}

it('draws all in one frame, from the lowest, however often something changed', () => {
  const { overlay, calls, frames, draw } = openOverlay();
  const low = overlay.add(() => calls.push('low'));
  overlay.add(() => calls.push('high'));
  low.changed();
  overlay.changed();
  expect(frames).toHaveLength(1);
  draw();
  expect(calls).toEqual(['clear', 'low', 'high']);
  low.remove();
  draw();
  expect(calls.slice(3)).toEqual(['clear', 'high']);
});

it('draws no more once it is gone', () => {
  const { overlay, calls, draw } = openOverlay();
  overlay.add(() => calls.push('drawn'));
  overlay.destroy();
  draw();
  overlay.changed();
  draw();
  expect(calls).toEqual([]);
});

it('marks out of sight are not drawn; those whose lines reach in are', () => {
  const box = (x: number, y: number) => ({ box: { x, y, width: 20, height: 20 } });
  const marks = [box(10, 10), box(-30, 10), box(410, 100), box(430, 100), box(100, 330)];
  expect(marksInSight(marks, camera)).toEqual([marks[0], marks[1], marks[2]]);
  // Zoomed in, the same reach on the screen is less of the picture.
  expect(marksInSight(marks, { ...camera, originX: 300, zoom: 4 })).toEqual([]);
});
