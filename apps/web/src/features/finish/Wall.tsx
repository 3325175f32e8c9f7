// The print on a wall, to scale, beside somebody who looks at it.
import Box from '@mui/material/Box';
import type { Cut, Merge } from '@blendrak/contract';
import { tileUrl } from '../../shared/api';
import { wholeCrop } from './cutTool';
import type { ReachingFinding } from './printWords';

/** A wall of a room, and how high eyes and the middles of pictures are, mm. */
const WALL = { width: 4200, height: 2600, eyes: 1600, middle: 1500, tall: 1720 } as const;
/** Where somebody stands, mm from the left. */
const PERSON_X = 620;
const PICTURE_PX = 1200;

interface WallProps {
  readonly merge: Pick<Merge, 'id' | 'width' | 'height'>;
  readonly cut: Cut;
  /** Size of a px of the print, mm. */
  readonly pitchMm: number;
  readonly distanceMm: number;
  readonly findings: readonly ReachingFinding[];
}

export function Wall({ merge, cut, pitchMm, distanceMm, findings }: WallProps) {
  const crop = cut.crop ?? wholeCrop(merge);
  const [width, height] = [crop.width * pitchMm, crop.height * pitchMm];
  // A print larger than the wall is hung on a larger one.
  const scale = Math.max(1, (width * 1.15) / (WALL.width - 1400), (height * 1.15) / (2 * (WALL.height - WALL.middle)));
  const [left, top] = [(WALL.width * scale + 900) / 2 - width / 2, (WALL.height - WALL.middle) * scale - height / 2];
  const floor = WALL.height * scale;
  const up = (mm: number): number => floor - mm;
  return (
    <Box
      component="svg"
      role="img"
      aria-label={`The print on a wall, ${Math.round(width / 10)} × ${Math.round(height / 10)} cm, to scale`}
      viewBox={`0 0 ${WALL.width * scale} ${floor + 160}`}
      preserveAspectRatio="xMidYMax meet"
      sx={{ width: '100%', height: '100%', display: 'block', bgcolor: '#777' }}
    >
      <rect y={floor} width={WALL.width * scale} height={160} fill="#5c5c5c" />
      <path d={`M0 ${up(WALL.eyes)}H${WALL.width * scale}`} stroke="#9a9a9a" strokeWidth={5} strokeDasharray="30 30" />
      <text x={30} y={up(WALL.eyes) - 24} fontSize={78} fill="#1c1c1c">
        eyes at 1.6 m
      </text>
      <g fill="#454545">
        <circle cx={PERSON_X} cy={up(WALL.tall - 120)} r={112} />
        <path d={`M${PERSON_X - 210} ${up(1370)}q210 -110 420 0l-60 640h-60l-20 ${730}h-160l-20 -730h-60z`} />
      </g>
      <svg
        x={left}
        y={top}
        width={width}
        height={height}
        viewBox={`${crop.x} ${crop.y} ${crop.width} ${crop.height}`}
        preserveAspectRatio="none"
      >
        <g transform={`rotate(${cut.turnDeg} ${merge.width / 2} ${merge.height / 2})`}>
          <image
            href={tileUrl(`r-${merge.id}`, 'full', `!${PICTURE_PX},${PICTURE_PX}`)}
            width={merge.width}
            height={merge.height}
          />
          {findings
            .filter(({ farMm }) => farMm === null || farMm >= distanceMm)
            .map(({ finding }) => (
              <polygon
                key={finding.id}
                points={finding.polygon.map((p) => p.join(',')).join(' ')}
                fill="none"
                stroke="#fff"
                strokeWidth={Math.max(2, 3 / pitchMm)}
              />
            ))}
        </g>
      </svg>
      <rect x={left} y={top} width={width} height={height} fill="none" stroke="#1c1c1c" strokeWidth={8} />
      <path d={`M${left} ${top + height + 60}h500`} stroke="#1c1c1c" strokeWidth={10} />
      <text x={left} y={top + height + 160} fontSize={78} fill="#1c1c1c">
        50 cm
      </text>
    </Box>
  );
}
