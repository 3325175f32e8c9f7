// A picture on which an area is marked, by corners or with a brush; what is marked is hatched, so that its tone stays to be seen.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useId, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { AreaShapes } from '@blendrak/contract';
import {
  closeOutline,
  drag,
  markedShapes,
  press,
  release,
  takeBack,
  type AreaState,
  type AreaToolName,
  type Place,
} from './areaTool';
import { useArea } from './useArea';

interface AreaPainterProps {
  /** What is marked: said by assistive technology. */
  readonly label: string;
  readonly picture: string;
  readonly width: number;
  readonly height: number;
  /** Where marking begins; later changes come from here alone. */
  readonly start: AreaShapes;
  onChange(shapes: AreaShapes): void;
}

/** Width on the screen, px. */
const SHOWN_PX = 460;
/** Distance that an arrow key moves the cross, in shares of the picture. */
const KEY_STEP = 0.02;
const MOVES: Readonly<Record<string, Place>> = {
  ArrowLeft: [-KEY_STEP, 0],
  ArrowRight: [KEY_STEP, 0],
  ArrowUp: [0, -KEY_STEP],
  ArrowDown: [0, KEY_STEP],
};

export function AreaPainter({ label, picture, width, height, start, onChange }: AreaPainterProps) {
  const { state, step } = useArea(start, onChange);
  const [tool, setTool] = useState<AreaToolName>('corners');
  const [radius, setRadius] = useState(0.04);
  const [cross, setCross] = useState<Place | null>(null);
  const aspect = height / width;
  const shown = { width: SHOWN_PX, height: Math.round(SHOWN_PX * aspect) };
  const placeOf = (event: PointerEvent<SVGSVGElement>): Place => {
    const box = event.currentTarget.getBoundingClientRect();
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const move = MOVES[event.key];
    const at = cross ?? [0.5, 0.5];
    if (move) setCross([at[0] + move[0], at[1] + move[1]]);
    else if (event.key === 'Enter') step((s) => release(press(s, tool, at, aspect), radius));
    else return;
    event.preventDefault();
  };
  return (
    <Box sx={{ display: 'grid', gap: 1, width: SHOWN_PX }}>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }}>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={tool}
          aria-label="How to mark"
          onChange={(_, next: AreaToolName | null) => next && setTool(next)}
        >
          <ToggleButton value="corners">Corners</ToggleButton>
          <ToggleButton value="brush">Brush</ToggleButton>
        </ToggleButtonGroup>
        {tool === 'brush' && (
          <Slider
            size="small"
            aria-label="Width of the brush, % of the picture"
            min={1}
            max={40}
            value={Math.round(radius * 200)}
            onChange={(_, value) => setRadius(Number(value) / 200)}
            sx={{ width: 110 }}
          />
        )}
        <Button disabled={state.corners.length + state.done.length === 0} onClick={() => step(takeBack)}>
          Take back
        </Button>
        <Button disabled={state.corners.length < 3} onClick={() => step(closeOutline)}>
          Close the outline
        </Button>
      </Box>
      <Box sx={{ position: 'relative', ...shown }}>
        <img src={picture} alt="" style={{ width: '100%', height: '100%' }} />
        <svg
          viewBox={`0 0 ${shown.width} ${shown.height}`}
          role="application"
          aria-label={`${label}: click corners or paint; arrow keys move a cross, Enter marks there`}
          tabIndex={0}
          style={{ position: 'absolute', inset: 0, cursor: 'crosshair', touchAction: 'none' }}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            const at = placeOf(event);
            step((s) => press(s, tool, at, aspect));
          }}
          onPointerMove={(event) => {
            const at = placeOf(event);
            step((s) => drag(s, at, aspect));
          }}
          onPointerUp={() => step((s) => release(s, radius))}
          onKeyDown={onKeyDown}
          onBlur={() => setCross(null)}
        >
          <Marks state={state} radius={radius} {...shown} />
          {cross && <Cross x={cross[0] * shown.width} y={cross[1] * shown.height} />}
        </svg>
      </Box>
      <Typography variant="body2" color="text.secondary">
        {wordsOf(state)}
      </Typography>
    </Box>
  );
}

function wordsOf(state: AreaState): string {
  const shapes = markedShapes(state).length;
  const parts = shapes === 0 ? 'Nothing is marked yet.' : `${shapes} ${shapes === 1 ? 'part is' : 'parts are'} marked.`;
  const missing = 3 - state.corners.length;
  return state.corners.length > 0 && missing > 0
    ? `${parts} ${missing} more ${missing === 1 ? 'corner' : 'corners'} make an outline.`
    : parts;
}

interface Size {
  readonly width: number;
  readonly height: number;
}

function Marks({ state, radius, width, height }: Size & { state: AreaState; radius: number }) {
  const hatch = useId();
  const path = (points: readonly Place[]): string => points.map(([x, y]) => `${x * width},${y * height}`).join(' ');
  const stroke = (points: readonly Place[], r: number, key: React.Key) => (
    <polyline
      key={key}
      // A single dab is a line of no length: round ends draw it.
      points={path(points.length === 1 ? [points[0]!, points[0]!] : points)}
      fill="none"
      stroke={`url(#${hatch})`}
      strokeWidth={2 * r * width}
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  );
  return (
    <>
      <defs>
        <pattern id={hatch} width={7} height={7} patternUnits="userSpaceOnUse" patternTransform="rotate(35)">
          <rect width={7} height={1.1} fill="#ffffff" />
          <rect y={1.1} width={7} height={1.1} fill="#000000" />
        </pattern>
      </defs>
      {state.done.map((shape, n) =>
        shape.kind === 'polygon' ? (
          <polygon
            key={n}
            points={path(shape.corners)}
            fill={`url(#${hatch})`}
            fillRule="evenodd"
            stroke="#ffffff"
            strokeWidth={1.2}
          />
        ) : (
          stroke(shape.points, shape.radius, n)
        ),
      )}
      {state.stroke.length > 0 && stroke(state.stroke, radius, 'now')}
      <polygon points={path(state.corners)} fill="none" stroke="#000000" strokeWidth={3.5} />
      <polygon
        points={path(state.corners)}
        fill={state.corners.length >= 3 ? `url(#${hatch})` : 'none'}
        stroke="#ffffff"
        strokeWidth={1.5}
      />
      {state.corners.map(([x, y], n) => (
        <circle key={n} cx={x * width} cy={y * height} r={3} fill="#ffffff" stroke="#000000" />
      ))}
    </>
  );
}

function Cross({ x, y }: { readonly x: number; readonly y: number }) {
  const lines = `M${x - 9},${y}H${x + 9}M${x},${y - 9}V${y + 9}`;
  return (
    <>
      <path d={lines} stroke="#000000" strokeWidth={3.5} />
      <path d={lines} stroke="#ffffff" strokeWidth={1.5} />
    </>
  );
}
