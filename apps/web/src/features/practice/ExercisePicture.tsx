// The picture of an exercise: looked through at any size, marked by a point or an outline; the answer is laid over it.
import Box from '@mui/material/Box';
import { useEffect, useRef, useState, type PointerEvent, type WheelEvent } from 'react';
import type { LearnersMarkRecord, Merge, Solution } from '@blendrak/contract';
import { DEFECT_LOOKS } from '../../shared/defects';
import { panned, toPicture, toScreen, zoomed, type Camera, type Place } from '../../viewer/camera';
import type { DeepView } from '../../viewer/deepView';
import { drawMarks, type RegionMark } from '../../viewer/drawMarks';
import { useView } from '../../viewer/useView';

export type Outline = LearnersMarkRecord['polygon'];

/** A click is a mark of this radius, CSS px: as exact as a finger. */
const POINT_PX = 14;
/** A pointer that moved less has clicked, CSS px. */
const CLICK_PX = 5;
const INK = '#19d3f3';

interface ExercisePictureProps {
  readonly merge: Pick<Merge, 'id' | 'width' | 'height'>;
  /** Frame that is looked at instead; null for the merge. */
  readonly frame: number | null;
  readonly marks: readonly LearnersMarkRecord[];
  readonly chosen: number | null;
  readonly solution: Solution | null;
  /** Null while nothing can be marked. */
  readonly onMark: ((polygon: Outline) => void) | null;
  onReady(deep: DeepView): void;
}

export function ExercisePicture({ merge, frame, marks, chosen, solution, onMark, onReady }: ExercisePictureProps) {
  const host = useRef<HTMLDivElement>(null);
  const deep = useView(host);
  const { id, width, height } = merge;
  useEffect(() => {
    if (!deep) return;
    const name = frame === null ? `m-${id}` : `f-${id}-${frame}`;
    deep.setLayers([{ id: name, width, height, revision: '', versionAt: () => '0' }]);
  }, [deep, frame, height, id, width]);
  useEffect(() => {
    if (deep) onReady(deep);
  }, [deep, onReady]);
  useEffect(() => {
    if (!deep) return;
    const regions = marks.map((mark, k): RegionMark => ({
      polygon: mark.polygon,
      box: boxOf(mark.polygon),
      style: DEFECT_LOOKS[mark.defect].mark,
      strong: k === chosen,
    }));
    const drawing = deep.overlays.marks.add((context, camera) => {
      if (solution) drawSolution(context, camera, solution);
      drawMarks(context, camera, regions, INK);
      regions.forEach(({ box }, k) => drawNumber(context, toScreen(camera, box), k + 1));
    });
    return () => drawing.remove();
  }, [chosen, deep, marks, solution]);
  const pointer = usePointer(deep, onMark);
  return (
    <Box
      ref={host}
      role="application"
      aria-label="Picture of the exercise"
      tabIndex={0}
      {...pointer}
      onContextMenu={(event) => event.preventDefault()}
      sx={{
        position: 'absolute',
        inset: 0,
        touchAction: 'none',
        cursor: onMark ? 'crosshair' : 'grab',
        '&:focus-visible': { outlineOffset: '-3px' },
      }}
    />
  );
}

function boxOf(polygon: Outline): RegionMark['box'] {
  const [xs, ys] = [polygon.map(([x]) => x), polygon.map(([, y]) => y)];
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
}

/** Where defects were hidden: filled lines for what was found, a dark bed below so that they show on every ground. */
function drawSolution(context: CanvasRenderingContext2D, camera: Camera, { faults, cellPx }: Solution): void {
  for (const { rows, mark } of faults) {
    context.fillStyle = mark === null ? 'rgba(255, 90, 60, 0.45)' : 'rgba(120, 230, 140, 0.4)';
    for (const [x, y, across] of rows) {
      const at = toScreen(camera, { x, y });
      // Hatched: the picture below stays to be seen.
      if ((y / cellPx) % 2 === 0) context.fillRect(at.x, at.y, across * camera.zoom, Math.max(1, cellPx * camera.zoom));
    }
  }
}

function drawNumber(context: CanvasRenderingContext2D, { x, y }: Place, n: number): void {
  context.font = '600 12px sans-serif';
  context.fillStyle = '#000';
  context.fillRect(x - 2, y - 18, 16, 16);
  context.fillStyle = INK;
  context.fillText(String(n), x + 2, y - 5);
}

interface Pressed {
  readonly isPan: boolean;
  readonly start: Place;
  readonly path: readonly [number, number][];
  readonly last: Place;
}

function usePointer(deep: DeepView | null, onMark: ((polygon: Outline) => void) | null) {
  const [pressed, setPressed] = useState<Pressed | null>(null);
  useEffect(() => {
    if (!deep || !pressed || pressed.isPan) return;
    const drawing = deep.overlays.front.add((context, camera) => {
      context.strokeStyle = INK;
      context.lineWidth = 2;
      context.beginPath();
      for (const [x, y] of pressed.path) {
        const at = toScreen(camera, { x, y });
        context.lineTo(at.x, at.y);
      }
      context.stroke();
    });
    return () => drawing.remove();
  }, [deep, pressed]);
  const placeOf = (event: PointerEvent | WheelEvent): Place => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  };
  return {
    onWheel: (event: WheelEvent): void => {
      if (deep) deep.setCamera(zoomed(deep.camera('aim'), Math.exp(-event.deltaY / 500), placeOf(event)));
    },
    onPointerDown: (event: PointerEvent): void => {
      if (!deep) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      const at = placeOf(event);
      const { x, y } = toPicture(deep.camera(), at);
      const isPan = event.button !== 0 || event.shiftKey || onMark === null;
      setPressed({ isPan, start: at, last: at, path: [[x, y]] });
    },
    onPointerMove: (event: PointerEvent): void => {
      if (!deep || !pressed) return;
      const at = placeOf(event);
      if (pressed.isPan)
        deep.setCamera(panned(deep.camera('aim'), at.x - pressed.last.x, at.y - pressed.last.y), 'at once');
      const { x, y } = toPicture(deep.camera(), at);
      setPressed({ ...pressed, last: at, path: pressed.isPan ? pressed.path : [...pressed.path, [x, y]] });
    },
    onPointerUp: (): void => {
      if (!deep || !pressed) return;
      setPressed(null);
      if (pressed.isPan || !onMark) return;
      const { start, last, path } = pressed;
      const isClick = Math.hypot(last.x - start.x, last.y - start.y) <= CLICK_PX && path.length < 8;
      onMark(isClick || path.length < 3 ? around(path[0]!, POINT_PX / deep.camera().zoom) : [...path]);
    },
    onPointerCancel: (): void => setPressed(null),
    onKeyDown: (event: React.KeyboardEvent): void => {
      if (!deep) return;
      const steps: Record<string, readonly [number, number]> = {
        ArrowLeft: [80, 0],
        ArrowRight: [-80, 0],
        ArrowUp: [0, 80],
        ArrowDown: [0, -80],
      };
      const camera = deep.camera('aim');
      const step = steps[event.key];
      if (step) deep.setCamera(panned(camera, ...step));
      // By keyboard the middle of what is in sight is marked.
      if (event.key === 'Enter' && onMark) {
        const { x, y } = toPicture(camera, { x: camera.width / 2, y: camera.height / 2 });
        onMark(around([x, y], POINT_PX / camera.zoom));
      }
    },
  };
}

/** A small octagon. */
function around([x, y]: readonly [number, number], radius: number): Outline {
  return Array.from({ length: 8 }, (_, k): [number, number] => [
    x + radius * Math.cos((k * Math.PI) / 4),
    y + radius * Math.sin((k * Math.PI) / 4),
  ]);
}
