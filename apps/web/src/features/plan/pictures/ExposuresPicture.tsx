// The bracket against the light of the scene: what each exposure holds, and what none does.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useTheme } from '@mui/material/styles';
import { formatShutter, type BracketPlan, type BracketRequest } from '@blendrak/core/plan';
import { GREY } from '../../../app/theme';

const W = 860;
const LEFT = 110;
const RIGHT = 20;

export function ExposuresPicture({ request, plan }: { readonly request: BracketRequest; readonly plan: BracketPlan }) {
  const { error } = useTheme().palette;
  const series = plan.exposures.filter((e) => e.what === null);
  const row = Math.min(34, 190 / series.length);
  const top = 30;
  const height = top + series.length * row + 34;
  // Light in EV about the scene's middle: an exposure brighter by 1 EV holds tones darker by 1 EV.
  const reach =
    Math.max(request.sceneEv / 2, request.usableEv / 2 + Math.max(...series.map((e) => Math.abs(e.ev)))) * 1.04;
  const x = (ev: number): number => LEFT + ((ev + reach) / (2 * reach)) * (W - LEFT - RIGHT);
  const held = plan.heldEv / 2;
  const lost = request.sceneEv / 2 - held;
  const ticks = Array.from({ length: Math.floor(reach / 2) * 2 + 1 }, (_, k) => (k - Math.floor(reach / 2)) * 2);
  return (
    <Box>
      <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
        Exposures against the light of the scene
      </Typography>
      <svg
        viewBox={`0 0 ${W} ${height}`}
        width="100%"
        role="img"
        aria-label={`${series.length} exposures hold ${plan.heldEv.toFixed(1)} EV of ${request.sceneEv} EV`}
        style={{ display: 'block' }}
      >
        <rect
          x={x(-request.sceneEv / 2)}
          y={top - 14}
          width={x(request.sceneEv / 2) - x(-request.sceneEv / 2)}
          height={series.length * row + 18}
          fill={GREY.panel}
          stroke={GREY.rule}
        />
        <text x={x(-request.sceneEv / 2) + 5} y={top - 17} fontSize={11} fill={GREY.quiet}>
          shadows
        </text>
        <text x={x(request.sceneEv / 2) - 5} y={top - 17} textAnchor="end" fontSize={11} fill={GREY.quiet}>
          highlights
        </text>
        {series.map((e, k) => (
          <g key={e.ev}>
            <text x={LEFT - 10} y={top + k * row + row / 2 + 1} textAnchor="end" fontSize={12} fill={GREY.text}>
              {formatShutter(e.exposureS)}
            </text>
            <rect
              x={x(-e.ev - request.usableEv / 2)}
              y={top + k * row}
              width={x(request.usableEv) - x(0)}
              height={Math.max(4, row - 10)}
              fill="#9a9a9a"
              stroke={GREY.page}
            />
          </g>
        ))}
        {lost > 1e-9 &&
          [-1, 1].map((side) => (
            <g key={side}>
              <rect
                x={x(side < 0 ? -request.sceneEv / 2 : held)}
                y={top - 14}
                width={x(lost) - x(0)}
                height={series.length * row + 18}
                fill={error.main}
                fillOpacity={0.4}
                stroke={error.main}
              />
              <text
                x={x(side * (held + lost / 2))}
                y={top + series.length * row - 2}
                textAnchor="middle"
                fontSize={12}
                fontWeight={700}
                fill={error.main}
                stroke={GREY.page}
                strokeWidth={4}
                paintOrder="stroke"
              >
                {side < 0 ? 'noise' : 'clipped'}
              </text>
            </g>
          ))}
        {ticks.map((ev) => (
          <text key={ev} x={x(ev)} y={height - 8} textAnchor="middle" fontSize={11} fill={GREY.quiet}>
            {ev > 0 ? `+${ev}` : ev}
          </text>
        ))}
        <text x={LEFT - 10} y={height - 8} textAnchor="end" fontSize={11} fill={GREY.quiet}>
          EV
        </text>
      </svg>
    </Box>
  );
}
