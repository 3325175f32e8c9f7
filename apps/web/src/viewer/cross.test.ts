// The keyboard's pointer.
import { moveCross, type CrossStep } from './cross';
import { toScreen, type Camera } from './camera';

const camera: Camera = { originX: 1000, originY: 500, zoom: 2, width: 800, height: 600 };
const picture = { width: 4000, height: 3000 };
const press = (key: string, at: { x: number; y: number } | null, shiftKey = false): CrossStep | null =>
  moveCross({ key, shiftKey, ctrlKey: false, metaKey: false, altKey: false }, at, camera, picture);

it('begins in the middle of the pane and goes by px of the screen, with Shift by one', () => {
  expect(press('ArrowRight', null)).toEqual({ kind: 'move', at: { x: 1206, y: 650 }, camera: null });
  expect(press('ArrowUp', { x: 1206, y: 650 }, true)).toEqual({
    kind: 'move',
    at: { x: 1206, y: 649.5 },
    camera: null,
  });
});

it('takes the picture along where it would leave the pane', () => {
  const step = press('ArrowLeft', { x: 1021, y: 650 });
  if (step?.kind !== 'move' || !step.camera) throw new Error('the picture stays');
  expect(toScreen(step.camera, step.at).x).toBeCloseTo(40, 6);
  expect(toScreen(step.camera, step.at).y).toBeCloseTo(300, 6);
});

it('stays on the picture', () => {
  expect(press('ArrowLeft', { x: 2, y: 10 })).toMatchObject({ at: { x: 0, y: 10 } });
  expect(press('ArrowDown', { x: 5, y: 2998 })).toMatchObject({ at: { x: 5, y: 2999 } });
});

it('Space and Enter press where it is; other keys and those with modifiers are not its own', () => {
  expect(press(' ', { x: 7, y: 8 })).toEqual({ kind: 'press', at: { x: 7, y: 8 } });
  expect(press('Enter', null)).toEqual({ kind: 'press', at: { x: 1200, y: 650 } });
  expect(press('n', { x: 7, y: 8 })).toBeNull();
  const withMod = { key: 'ArrowLeft', shiftKey: false, ctrlKey: true, metaKey: false, altKey: false };
  expect(moveCross(withMod, null, camera, picture)).toBeNull();
});
