// The stack along the depth of the subject: slices to scale with overlaps and gaps, and the blur that remains.
import Box from '@mui/material/Box';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useTheme } from '@mui/material/styles';
import { useMemo, useRef, useState } from 'react';
import { blurAtPx, readableLength, type FocusRequest, type FocusStackPlan, type Slice } from '@blendrak/core/plan';
import { GREY } from '../../../app/theme';
import { layAxis, type AxisScale, type DepthAxis } from './depthAxis';

const W = 860;
const CURVE = { top: 12, height: 92 };
const BARS = { top: 124, height: 84 };
const AXIS_Y = 214;
const H = 238;
const LEFT = 38;
const INNER = W - LEFT - 12;
const CURVE_POINTS = 360;

interface DepthPictureProps {
  readonly request: FocusRequest;
  readonly plan: FocusStackPlan;
  /** A slice was moved: all focus distances, null for infinity. */
  onMove(focusMm: (number | null)[]): void;
}

export function DepthPicture({ request, plan, onMove }: DepthPictureProps) {
  const [scale, setScale] = useState<AxisScale>('dioptres');
  const rail = request.drive === 'rail';
  const axis = useMemo(() => layAxis(plan.range, plan.slices, scale, rail), [plan, scale, rail]);
  const svg = useRef<SVGSVGElement>(null);
  const [dragged, setDragged] = useState<number | null>(null);

  const move = (k: number, mm: number): void => {
    const nearest = request.lens.focalLengthMm * 1.05;
    const next = plan.slices.map((s) => (Number.isFinite(s.focusMm) ? s.focusMm : null));
    next[k] = Number(Math.max(nearest, mm).toPrecision(5));
    onMove(next);
  };
  const mmAt = (clientX: number): number => {
    const box = svg.current!.getBoundingClientRect();
    const share = (((clientX - box.left) / box.width) * W - LEFT) / INNER;
    return axis.from(Math.min(1, Math.max(0, share)));
  };
  return (
    <Box>
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 0.5 }}>
        <Typography variant="h3" component="h2" sx={{ flex: 1 }}>
          Slices along the depth
        </Typography>
        {!rail && (
          <ToggleButtonGroup
            size="small"
            exclusive
            value={scale}
            aria-label="Scale of the axis"
            onChange={(_, value: AxisScale | null) => value && setScale(value)}
          >
            <ToggleButton value="dioptres" sx={{ py: 0.25 }}>
              Dioptres
            </ToggleButton>
            <ToggleButton value="distance" sx={{ py: 0.25 }}>
              Distance
            </ToggleButton>
          </ToggleButtonGroup>
        )}
      </Box>
      <svg
        ref={svg}
        viewBox={`0 0 ${W} ${H}`}
        width="100%"
        role="group"
        aria-label={`${plan.slices.length} slices, ${plan.gaps.length} gaps`}
        style={{ display: 'block', touchAction: 'none' }}
        onPointerMove={(event) => dragged !== null && move(dragged, mmAt(event.clientX))}
        onPointerUp={() => setDragged(null)}
        onPointerLeave={() => setDragged(null)}
      >
        <BlurCurve request={request} plan={plan} axis={axis} />
        <Gaps plan={plan} axis={axis} />
        {plan.slices.map((slice, k) => (
          <SliceBar
            key={k}
            index={k}
            count={plan.slices.length}
            slice={slice}
            axis={axis}
            held={dragged === k}
            movable={!rail}
            onGrab={() => setDragged(k)}
            onStep={(steps) => move(k, shifted(slice.focusMm, steps))}
          />
        ))}
        <AxisLine axis={axis} plan={plan} rail={rail} />
      </svg>
    </Box>
  );
}

/** A keyboard step: half a per cent of the distance, from infinity to far away. */
function shifted(mm: number, steps: number): number {
  return Number.isFinite(mm) ? mm * 1.005 ** steps : 100_000;
}

const x = (axis: DepthAxis, mm: number): number => LEFT + axis.at(mm) * INNER;

function BlurCurve({
  request,
  plan,
  axis,
}: {
  readonly request: FocusRequest;
  readonly plan: FocusStackPlan;
  readonly axis: DepthAxis;
}) {
  const { warning } = useTheme().palette;
  const start = axis.at(plan.range.nearestMm);
  const end = axis.at(plan.range.farthestMm);
  const points = Array.from({ length: CURVE_POINTS + 1 }, (_, i) => {
    const share = start + ((end - start) * i) / CURVE_POINTS;
    return [LEFT + share * INNER, blurAtPx(request, plan.slices, axis.from(share))] as const;
  });
  // Blur that was accepted, with what diffraction and the pixel add to it.
  const limit = Math.hypot(plan.cocMm / plan.pitchMm, plan.chosen.bestBlurPx);
  const top = Math.max(limit * 1.6, Math.min(limit * 4, Math.max(...points.map(([, b]) => b)))) || 1;
  const y = (blur: number): number => CURVE.top + CURVE.height * (1 - Math.min(1, blur / top));
  return (
    <g>
      <rect x={LEFT} y={y(limit)} width={INNER} height={CURVE.top + CURVE.height - y(limit)} fill={GREY.panel} />
      <line x1={LEFT} x2={LEFT + INNER} y1={y(limit)} y2={y(limit)} stroke={GREY.quiet} strokeDasharray="2 3" />
      <text x={LEFT - 5} y={y(limit) + 4} textAnchor="end" fontSize={11} fill={GREY.quiet}>
        {limit.toFixed(1)}
      </text>
      <text x={LEFT - 5} y={CURVE.top + CURVE.height} textAnchor="end" fontSize={11} fill={GREY.quiet}>
        0
      </text>
      <text x={LEFT + 4} y={CURVE.top + 2} fontSize={11} fill={GREY.quiet}>
        blur, px
      </text>
      <polyline
        points={points.map(([px, b]) => `${px.toFixed(1)},${y(b).toFixed(1)}`).join(' ')}
        fill="none"
        stroke={GREY.text}
        strokeWidth={1.5}
      />
      {points.some(([, b]) => b > limit * 1.001) && (
        <polyline
          points={points.map(([px, b]) => `${px.toFixed(1)},${y(Math.max(b, limit)).toFixed(1)}`).join(' ')}
          fill={warning.main}
          fillOpacity={0.35}
          stroke="none"
        />
      )}
    </g>
  );
}

function Gaps({ plan, axis }: { readonly plan: FocusStackPlan; readonly axis: DepthAxis }) {
  const { error } = useTheme().palette;
  return (
    <g>
      <defs>
        <pattern id="gap-hatch" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="3" height="7" fill={error.main} />
        </pattern>
      </defs>
      {plan.gaps.map(({ nearMm, farMm }) => {
        const left = x(axis, nearMm);
        const width = Math.max(4, x(axis, farMm) - left);
        return (
          <g key={nearMm}>
            <rect
              x={left}
              y={CURVE.top}
              width={width}
              height={AXIS_Y - CURVE.top}
              fill="url(#gap-hatch)"
              fillOpacity={0.55}
              stroke={error.main}
            />
            <text
              x={left + width / 2}
              y={BARS.top - 6}
              textAnchor="middle"
              fontSize={13}
              fontWeight={700}
              fill={error.main}
              stroke={GREY.page}
              strokeWidth={4}
              paintOrder="stroke"
            >
              no slice
            </text>
          </g>
        );
      })}
    </g>
  );
}

interface SliceBarProps {
  readonly index: number;
  readonly count: number;
  readonly slice: Slice;
  readonly axis: DepthAxis;
  readonly held: boolean;
  readonly movable: boolean;
  onGrab(): void;
  onStep(steps: number): void;
}

/** Neighbours stand on different levels, so that overlaps can be seen from above. */
function SliceBar({ index, count, slice, axis, held, movable, onGrab, onStep }: SliceBarProps) {
  const levels = Math.min(4, Math.max(2, count));
  const height = BARS.height / levels - 4;
  const top = BARS.top + (index % levels) * (height + 4);
  const left = x(axis, slice.nearMm);
  const width = Math.max(1.5, x(axis, slice.farMm) - left);
  const focus = x(axis, slice.focusMm);
  const label = `Slice ${index + 1}, focused at ${readableLength(slice.focusMm, 4)}, sharp from ${readableLength(slice.nearMm, 4)} to ${readableLength(slice.farMm, 4)}`;
  return (
    <g
      role={movable ? 'slider' : 'img'}
      tabIndex={movable ? 0 : undefined}
      aria-label={label}
      aria-valuenow={movable ? Math.round(Math.min(slice.focusMm, 1e9)) : undefined}
      aria-valuetext={movable ? readableLength(slice.focusMm, 4) : undefined}
      style={{ cursor: movable ? 'ew-resize' : 'default' }}
      onPointerDown={(event) => {
        if (!movable) return;
        event.preventDefault();
        onGrab();
      }}
      onKeyDown={(event) => {
        const steps = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -10, PageUp: 10 }[event.key];
        if (steps === undefined || !movable) return;
        event.preventDefault();
        onStep(steps);
      }}
    >
      <title>{label}</title>
      <rect x={left} y={top} width={width} height={height} fill={held ? GREY.text : '#8a8a8a'} stroke={GREY.page} />
      <rect x={focus - 1.5} y={top - 2} width={3} height={height + 4} fill={GREY.text} stroke={GREY.page} />
      {count <= 24 && focus - left > 12 && (
        <text
          x={left + (focus - left) / 2}
          y={top + height / 2 + 4}
          textAnchor="middle"
          fontSize={11}
          fontWeight={700}
          fill="#141414"
        >
          {index + 1}
        </text>
      )}
      <rect
        x={Math.min(left, focus - 8)}
        y={top - 4}
        width={Math.max(width, 16)}
        height={height + 8}
        fill="transparent"
      />
    </g>
  );
}

function AxisLine({
  axis,
  plan,
  rail,
}: {
  readonly axis: DepthAxis;
  readonly plan: FocusStackPlan;
  readonly rail: boolean;
}) {
  const { nearestMm, farthestMm } = plan.range;
  const from = x(axis, nearestMm);
  const to = x(axis, farthestMm);
  return (
    <g>
      <line x1={LEFT} x2={LEFT + INNER} y1={AXIS_Y} y2={AXIS_Y} stroke={GREY.rule} />
      <line x1={from} x2={to} y1={AXIS_Y} y2={AXIS_Y} stroke={GREY.text} strokeWidth={4} />
      {[from, to].map((at, i) => (
        <line key={i} x1={at} x2={at} y1={BARS.top - 4} y2={AXIS_Y + 4} stroke={GREY.text} strokeDasharray="4 3" />
      ))}
      {axis.ticks.map((mm) => (
        <g key={mm}>
          <line x1={x(axis, mm)} x2={x(axis, mm)} y1={AXIS_Y} y2={AXIS_Y + 6} stroke={GREY.quiet} />
          <text x={x(axis, mm)} y={AXIS_Y + 19} textAnchor="middle" fontSize={11} fill={GREY.quiet}>
            {rail ? `${Number(mm.toPrecision(4))} mm` : readableLength(mm, 4)}
          </text>
        </g>
      ))}
      {axis.open && (
        <text x={W - 4} y={AXIS_Y + 19} textAnchor="end" fontSize={11} fill={GREY.quiet}>
          to ∞
        </text>
      )}
    </g>
  );
}
