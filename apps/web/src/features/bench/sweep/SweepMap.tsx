// The small map of the sweep: what was looked at at full size is clear, the rest is hatched.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, useSyncExternalStore, type MouseEvent } from 'react';
import { SWEEP_CELL_PX } from '@blendrak/contract';
import { GREY } from '../../../app/theme';
import { tileUrl } from '../../../shared/api';
import { CommandButton } from '../../../shared/commands/CommandButton';
import type { Command } from '../../../shared/commands/keys';
import type { BenchMerge } from '../../../shared/queries';
import type { PictureRegion } from '../../../viewer/camera';
import { isSeen, seenShare, type SweepGrid } from './sweepGrid';
import type { Sweeping } from './sweeping';

const WIDTH_PX = 190;
const MOST_HEIGHT_PX = 130;
const HATCH_PX = 5;

interface SweepMapProps {
  readonly merge: BenchMerge;
  readonly sweeping: Sweeping;
  readonly next: Command;
  onTravel(to: PictureRegion): void;
}

export function SweepMap({ merge, sweeping, next, onTravel }: SweepMapProps) {
  const sweep = useSyncExternalStore(sweeping.onChange, sweeping.now);
  const canvas = useRef<HTMLCanvasElement>(null);
  const scale = Math.min(WIDTH_PX / merge.width, MOST_HEIGHT_PX / merge.height);
  const [width, height] = [Math.round(scale * merge.width), Math.round(scale * merge.height)];
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (context) drawUnseen(context, sweep, scale);
  }, [scale, sweep]);
  const travel = (event: MouseEvent<HTMLElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    onTravel({ x: (event.clientX - box.left) / scale, y: (event.clientY - box.top) / scale, width: 1, height: 1 });
  };
  const share = Math.floor(100 * seenShare(sweep));
  return (
    <Box sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1 }}>
      <Typography variant="h3" sx={{ pb: 0.5 }}>
        Looked at at full size: {share} %
      </Typography>
      <Box
        onClick={travel}
        sx={{ position: 'relative', width, height, cursor: 'pointer', mb: 0.5 }}
        role="img"
        aria-label={`${share} % of the merge was looked at at full size`}
      >
        <img src={tileUrl(`m-${merge.id}`, 'full', `!${width},${height}`, 0)} alt="" width={width} height={height} />
        <canvas ref={canvas} width={width} height={height} style={{ position: 'absolute', inset: 0 }} />
      </Box>
      <CommandButton command={next}>{share < 100 ? `Next unseen part (${next.shown})` : 'All was seen'}</CommandButton>
    </Box>
  );
}

function drawUnseen(context: CanvasRenderingContext2D, sweep: SweepGrid, scale: number): void {
  const { columns, rows } = sweep;
  const { width, height } = context.canvas;
  context.clearRect(0, 0, width, height);
  context.save();
  context.beginPath();
  for (let i = 0; i < columns * rows; i++) {
    if (isSeen(sweep, i)) continue;
    const side = SWEEP_CELL_PX * scale;
    context.rect((i % columns) * side, Math.floor(i / columns) * side, side, side);
  }
  context.clip();
  for (const [style, lineWidth] of [
    ['rgba(0, 0, 0, 0.55)', 2.5],
    ['#fff', 1],
  ] as const) {
    context.beginPath();
    for (let d = -height; d < width; d += HATCH_PX) {
      context.moveTo(d, 0);
      context.lineTo(d + height, height);
    }
    context.strokeStyle = style;
    context.lineWidth = lineWidth;
    context.stroke();
  }
  context.restore();
}
