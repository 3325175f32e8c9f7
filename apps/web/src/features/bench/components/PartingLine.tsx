// The line that parts two pictures of one place: drawn by pointer, or moved by the arrow keys.
import Box from '@mui/material/Box';
import { useEffect, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { toPicture, toScreen } from '../../../viewer/camera';
import type { DeepView } from '../../../viewer/deepView';
import { useBench } from '../store';

const GRIP_PX = 24;
const STEP_PX = 8;

interface PartingLineProps {
  readonly deep: DeepView | null;
  /** Of the picture, px. */
  readonly width: number;
}

export function PartingLine({ deep, width }: PartingLineProps) {
  const partedAt = useBench((s) => s.partedAt);
  const left = useScreenX(deep, partedAt);
  if (!deep || left === null) return null;
  const move = (x: number): void => useBench.getState().set({ partedAt: Math.round(Math.min(width, Math.max(0, x))) });
  const drag = (event: PointerEvent<HTMLElement>): void => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const pane = event.currentTarget.parentElement!.getBoundingClientRect();
    move(toPicture(deep.camera(), { x: event.clientX - pane.left, y: 0 }).x);
  };
  const step = (event: KeyboardEvent): void => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    move(partedAt + (by * (event.shiftKey ? 1 : STEP_PX)) / deep.camera().zoom);
  };
  return (
    <Box
      role="slider"
      tabIndex={0}
      aria-label="Line between frame and merge"
      aria-orientation="horizontal"
      aria-valuemin={0}
      aria-valuemax={width}
      aria-valuenow={partedAt}
      aria-valuetext={`${partedAt} px from the left`}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={drag}
      onKeyDown={step}
      sx={{
        position: 'absolute',
        top: 0,
        bottom: 0,
        left: left - GRIP_PX / 2,
        width: GRIP_PX,
        cursor: 'col-resize',
        touchAction: 'none',
        '&::after': {
          content: '""',
          position: 'absolute',
          inset: `0 ${GRIP_PX / 2 - 1}px`,
          bgcolor: '#fff',
          outline: '1px solid rgba(0, 0, 0, 0.6)',
        },
      }}
    />
  );
}

/** Where a column of the picture lies in the pane, kept inside it; null before there is a picture. */
function useScreenX(deep: DeepView | null, x: number): number | null {
  const [left, setLeft] = useState<number | null>(null);
  useEffect(() => {
    if (!deep) return;
    const read = (): void => {
      const camera = deep.camera();
      setLeft(Math.min(camera.width, Math.max(0, toScreen(camera, { x, y: 0 }).x)));
    };
    read();
    return deep.onChange(read);
  }, [deep, x]);
  return left;
}
