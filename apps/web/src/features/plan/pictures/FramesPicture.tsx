// The frames of a panorama as they come to lie on its canvas, with the wanted rectangle that cropping leaves.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { frameOutline, projectDirection, type PanoramaPlan, type PanoramaRequest } from '@blendrak/core/plan';
import { GREY } from '../../../app/theme';

const W = 860;
const H = 300;
const RAD = Math.PI / 180;

type Point = readonly [number, number];

interface Layout {
  readonly frames: readonly (readonly Point[])[];
  readonly wanted: readonly Point[];
}

export function FramesPicture({ request, plan }: { readonly request: PanoramaRequest; readonly plan: PanoramaPlan }) {
  const { frames, wanted } = useMemo(() => fit(layOut(request, plan)), [request, plan]);
  const path = (points: readonly Point[]): string =>
    points.map(([px, py]) => `${px.toFixed(1)},${py.toFixed(1)}`).join(' ');
  return (
    <Box>
      <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
        Frames on the canvas
      </Typography>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        width="100%"
        role="img"
        aria-label={`${plan.columns} columns in ${plan.rows} rows; overlaps are lighter, the outlined part is what was wanted`}
        style={{ display: 'block' }}
      >
        {frames.map((points, k) => (
          <polygon
            key={k}
            points={path(points)}
            fill="#ffffff"
            fillOpacity={0.16}
            stroke={GREY.quiet}
            strokeWidth={1}
          />
        ))}
        <polygon points={path(wanted)} fill="none" stroke={GREY.page} strokeWidth={5} />
        <polygon points={path(wanted)} fill="none" stroke={GREY.text} strokeWidth={2} strokeDasharray="9 4" />
        {frames.map((points, k) => {
          const cx = points.reduce((s, p) => s + p[0], 0) / points.length;
          const cy = points.reduce((s, p) => s + p[1], 0) / points.length;
          return (
            <text
              key={k}
              x={cx}
              y={cy + 5}
              textAnchor="middle"
              fontSize={frames.length > 60 ? 9 : 13}
              fontWeight={700}
              fill={GREY.text}
            >
              {k + 1}
            </text>
          );
        })}
      </svg>
      <Typography variant="body2" color="text.secondary">
        Numbers give the order of shooting. Overlaps are lighter; the dashed outline is the picture that was wanted.
      </Typography>
    </Box>
  );
}

/** Outlines in focal lengths, y up. */
function layOut(request: PanoramaRequest, plan: PanoramaPlan): Layout {
  const half = [Math.tan((plan.frameDeg[0] * RAD) / 2), Math.tan((plan.frameDeg[1] * RAD) / 2)] as const;
  const { projection } = request;
  if (projection === 'repositioned') {
    const step = [
      (2 * half[0] * plan.turnDeg) / plan.frameDeg[0],
      (2 * half[1] * plan.tiltDeg) / plan.frameDeg[1],
    ] as const;
    const frames = plan.heads.map((_, k): Point[] => {
      const cx = ((k % plan.columns) - (plan.columns - 1) / 2) * step[0];
      const cy = (Math.floor(k / plan.columns) - (plan.rows - 1) / 2) * step[1];
      return [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ].map(([sx, sy]) => [cx + sx! * half[0], cy + sy! * half[1]]);
    });
    const share = (deg: number, frameDeg: number): number => deg / frameDeg;
    const w = half[0] * share(request.horizontalDeg, plan.frameDeg[0]);
    const h = half[1] * share(request.verticalDeg, plan.frameDeg[1]);
    return {
      frames,
      wanted: [
        [-w, -h],
        [w, -h],
        [w, h],
        [-w, h],
      ],
    };
  }
  const frames = plan.heads.map((head) => frameOutline(projection, head, half[0], half[1])).filter((f) => f.length > 2);
  const [w, h] = [(request.horizontalDeg * RAD) / 2, (request.verticalDeg * RAD) / 2];
  const right = projectDirection(projection, w, 0)?.[0] ?? 4;
  const top = projectDirection(projection, 0, Math.min(h, 1.29))?.[1] ?? 4;
  return {
    frames,
    wanted: [
      [-right, -top],
      [right, -top],
      [right, top],
      [-right, top],
    ],
  };
}

/** Scales a layout into the picture, y down. */
function fit({ frames, wanted }: Layout): Layout {
  const all = [...frames.flat(), ...wanted];
  const xs = all.map((p) => p[0]);
  const ys = all.map((p) => p[1]);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min((W - 8) / (x1 - x0), (H - 8) / (y1 - y0));
  const place = ([px, py]: Point): Point => [
    W / 2 + (px - (x0 + x1) / 2) * scale,
    H / 2 - (py - (y0 + y1) / 2) * scale,
  ];
  return { frames: frames.map((f) => f.map(place)), wanted: wanted.map(place) };
}
