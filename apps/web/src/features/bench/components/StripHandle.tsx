// The upper edge of the trace strip: drag it, or move it with the arrows, to give the patches more room.
import Box from '@mui/material/Box';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { GREY } from '../../../app/theme';
import { useBench } from '../store';

const LIMITS = { least: 40, most: 140 } as const;
const STEP = 8;

export function StripHandle() {
  const side = useBench((s) => s.layout.patchPx);
  const layOut = useBench((s) => s.layOut);
  const from = useRef<{ readonly y: number; readonly side: number } | null>(null);
  const resize = (to: number): void =>
    layOut({ patchPx: Math.round(Math.min(LIMITS.most, Math.max(LIMITS.least, to))) });
  const down = (event: PointerEvent<HTMLElement>): void => {
    event.currentTarget.setPointerCapture(event.pointerId);
    from.current = { y: event.clientY, side };
  };
  const move = (event: PointerEvent): void => {
    if (from.current) resize(from.current.side + from.current.y - event.clientY);
  };
  const key = (event: KeyboardEvent): void => {
    const by = { ArrowUp: STEP, ArrowDown: -STEP }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    resize(side + by);
  };
  return (
    <Box
      role="separator"
      aria-orientation="horizontal"
      aria-label="Height of the trace strip"
      aria-valuenow={side}
      aria-valuemin={LIMITS.least}
      aria-valuemax={LIMITS.most}
      tabIndex={0}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={() => (from.current = null)}
      onPointerCancel={() => (from.current = null)}
      onKeyDown={key}
      sx={{
        height: 6,
        cursor: 'row-resize',
        touchAction: 'none',
        borderTop: `1px solid ${GREY.rule}`,
        '&:hover': { bgcolor: GREY.raised },
      }}
    />
  );
}
