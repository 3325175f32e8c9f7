// A bracket's answer: what each exposure holds, the times, how long it takes.
import Box from '@mui/material/Box';
import { formatDuration, formatShutter, planBracket, type BracketPlan } from '@blendrak/core/plan';
import type { BracketSheet } from '../BracketForm';
import { ExposuresPicture } from '../pictures/ExposuresPicture';
import { Figures, type Figure } from './Figures';
import { Warnings } from './Warnings';

interface BracketAnswerProps {
  readonly sheet: BracketSheet;
  readonly answer: ReturnType<typeof planBracket>;
}

export function BracketAnswer({ sheet, answer: { plan, problems } }: BracketAnswerProps) {
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      {plan && <ExposuresPicture request={sheet.request} plan={plan} />}
      <Warnings problems={problems} />
      {plan && <Figures figures={figuresOf(sheet, plan)} />}
    </Box>
  );
}

function figuresOf({ request }: BracketSheet, plan: BracketPlan): Figure[] {
  const series = plan.exposures.filter((e) => e.what === null);
  const extras = plan.exposures.filter((e) => e.what !== null);
  return [
    {
      label: 'Exposures',
      value: String(plan.framesEach),
      meaning:
        extras.length > 0
          ? `${series.length} of the series, ${extras.length} for what moves`
          : `in steps of ${request.stepEv} EV`,
    },
    {
      label: 'Times',
      value: `${formatShutter(series[0]!.exposureS)} to ${formatShutter(series.at(-1)!.exposureS)}`,
      meaning: 'dark to bright',
    },
    { label: 'Range held', value: `${plan.heldEv.toFixed(1)} EV`, meaning: `of ${request.sceneEv} EV` },
    {
      label: 'Frames in all',
      value: String(plan.frames),
      meaning: request.directions > 1 ? `at ${request.directions} directions` : 'one direction',
    },
    { label: 'Time', value: formatDuration(plan.timeS), meaning: `light drifts ${plan.driftEv.toFixed(2)} EV` },
  ];
}
