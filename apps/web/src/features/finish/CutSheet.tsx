// The picture as it is cut: turned, with the crop to be moved by hand, and a line drawn along what should be level or upright.
import Box from '@mui/material/Box';
import { useRef, useState, type PointerEvent } from 'react';
import type { Cut, Merge } from '@blendrak/contract';
import { leanOf } from '@blendrak/core/finish';
import { tileUrl } from '../../shared/api';
import { draggedCrop, gripAt, wholeCrop, type Grip, type Region } from './cutTool';
import type { ReachingFinding } from './printWords';

const PICTURE_PX = 1600;
/** How near a corner is taken hold of, as a share of the picture's longer side. */
const REACH = 0.025;

interface CutSheetProps {
  readonly merge: Pick<Merge, 'id' | 'width' | 'height'>;
  readonly cut: Cut;
  readonly aspect: number | null;
  /** Findings that can show; those that are seen from where one stands are lit. */
  readonly findings: readonly ReachingFinding[];
  readonly distanceMm: number;
  readonly isLocked: boolean;
  /** Whether a line is drawn along an edge instead. */
  readonly isDrawing: boolean;
  onCrop(crop: Region): void;
  /** The lean of the line that was drawn, degrees. */
  onLean(deg: number): void;
}

interface Dragging {
  readonly from: readonly [number, number];
  readonly crop: Region;
  readonly grip: Grip | null;
}

export function CutSheet(props: CutSheetProps) {
  const { merge, cut, aspect, findings, distanceMm, isLocked, isDrawing, onCrop, onLean } = props;
  const { width, height } = merge;
  const crop = cut.crop ?? wholeCrop(merge);
  const svg = useRef<SVGSVGElement>(null);
  const [dragging, setDragging] = useState<Dragging | null>(null);
  const [line, setLine] = useState<readonly [number, number, number, number] | null>(null);
  const reach = REACH * Math.max(width, height);
  const placeOf = (event: PointerEvent): [number, number] => {
    const matrix = svg.current!.getScreenCTM()!.inverse();
    const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    return [x, y];
  };
  const down = (event: PointerEvent): void => {
    if (isLocked) return;
    const [x, y] = placeOf(event);
    const grip = isDrawing ? null : gripAt(crop, x, y, reach);
    if (!isDrawing && !grip) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    setDragging({ from: [x, y], crop, grip });
  };
  const move = (event: PointerEvent): void => {
    if (!dragging) return;
    const [x, y] = placeOf(event);
    const { from, grip } = dragging;
    if (!grip) setLine([...from, x, y]);
    else onCrop(draggedCrop(merge, cut.turnDeg, dragging.crop, grip, x - from[0], y - from[1], aspect));
  };
  const up = (): void => {
    // The line lies on the picture as it is turned now.
    if (line && Math.hypot(line[2] - line[0], line[3] - line[1]) > reach) onLean(leanOf(line) - cut.turnDeg);
    setLine(null);
    setDragging(null);
  };
  const hair = Math.max(width, height) / 600;
  const [cx, cy] = [width / 2, height / 2];
  return (
    <Box
      component="svg"
      ref={svg}
      role="application"
      aria-label="The picture as it is cut"
      viewBox={`0 0 ${width} ${height}`}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      sx={{
        width: '100%',
        height: '100%',
        display: 'block',
        touchAction: 'none',
        cursor: isDrawing ? 'crosshair' : 'move',
      }}
    >
      <g transform={`rotate(${cut.turnDeg} ${cx} ${cy})`}>
        <image href={tileUrl(`r-${merge.id}`, 'full', `!${PICTURE_PX},${PICTURE_PX}`)} width={width} height={height} />
        {findings.map(({ finding, farMm }) => {
          const isLit = farMm === null || farMm >= distanceMm;
          const points = finding.polygon.map((p) => p.join(',')).join(' ');
          return (
            <g key={finding.id} fill="none" opacity={isLit ? 1 : 0.35}>
              <polygon points={points} stroke="#000" strokeWidth={hair * 3} opacity={0.6} />
              <polygon
                points={points}
                stroke="#fff"
                strokeWidth={hair * (isLit ? 1.6 : 0.8)}
                strokeDasharray={isLit ? undefined : `${hair * 4} ${hair * 4}`}
              />
            </g>
          );
        })}
      </g>
      <path
        d={`M0 0H${width}V${height}H0Z M${crop.x} ${crop.y}v${crop.height}h${crop.width}v${-crop.height}Z`}
        fill="#2e2e2e"
        fillOpacity={0.72}
        fillRule="evenodd"
      />
      <rect {...crop} fill="none" stroke="#fff" strokeWidth={hair} />
      {!isLocked &&
        [
          [crop.x, crop.y],
          [crop.x + crop.width, crop.y],
          [crop.x, crop.y + crop.height],
          [crop.x + crop.width, crop.y + crop.height],
        ].map(([x, y]) => (
          <rect
            key={`${x} ${y}`}
            x={x! - hair * 5}
            y={y! - hair * 5}
            width={hair * 10}
            height={hair * 10}
            fill="#fff"
            stroke="#000"
            strokeWidth={hair * 0.7}
          />
        ))}
      {line && <path d={`M${line[0]} ${line[1]}L${line[2]} ${line[3]}`} stroke="#fff" strokeWidth={hair * 1.5} />}
    </Box>
  );
}
