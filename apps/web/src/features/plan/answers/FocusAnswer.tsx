// A focus stack's answer: aperture to drag, the picture, one frame or a stack, both schools, figures.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import {
  chooseStep,
  F_NUMBERS,
  formatBytes,
  formatDuration,
  formatFNumber,
  formatShutter,
  measuredBreathing,
  planFocusStack,
  readableLength,
  type FocusSchool,
  type FocusStackPlan,
} from '@blendrak/core/plan';
import type { MeasuredFact } from '@blendrak/contract';
import { PlainTable } from '../../../shared/PlainTable';
import { DepthPicture } from '../pictures/DepthPicture';
import type { FocusSheet } from '../FocusForm';
import { useKit } from '../usePlan';
import { Figures, type Figure } from './Figures';
import { Warnings } from './Warnings';

interface FocusAnswerProps {
  readonly sheet: FocusSheet;
  readonly answer: ReturnType<typeof planFocusStack>;
  onChange(sheet: FocusSheet): void;
}

export function FocusAnswer({ sheet, answer, onChange }: FocusAnswerProps) {
  const { plan, problems } = answer;
  const { request } = sheet;
  const kit = useKit();
  const measured = kit.data?.measured.find((m) => m.what === 'breathing' && m.lens === request.lens.name) ?? null;
  const setFNumber = (fNumber: number): void => onChange({ ...sheet, request: { ...request, fNumber } });
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      {plan && (
        <>
          <ApertureSlider sheet={sheet} recommended={plan.recommendedFNumber} onChange={setFNumber} />
          <DepthPicture
            request={request}
            plan={plan}
            onMove={(focusMm) => onChange({ ...sheet, request: { ...request, focusMm } })}
          />
        </>
      )}
      <Warnings problems={problems} />
      {plan && (
        <>
          <Figures figures={figuresOf(sheet, plan, measured)} />
          {plan.single && <SingleFrameWords plan={plan} />}
          <Schools plan={plan} onChoose={setFNumber} />
          <Typography variant="body2" color="text.secondary">
            A thin lens that focuses by its whole barrel; distances count from the lens. Real lenses differ: measure
            yours from a finished job.
          </Typography>
        </>
      )}
    </Box>
  );
}

function ApertureSlider({
  sheet,
  recommended,
  onChange,
}: {
  readonly sheet: FocusSheet;
  readonly recommended: number;
  onChange(fNumber: number): void;
}) {
  const { lens, fNumber } = sheet.request;
  const stops = F_NUMBERS.filter((n) => n >= lens.widestFNumber - 1e-9 && n <= lens.smallestFNumber + 1e-9);
  const at = stops.findIndex((n) => n >= fNumber - 1e-9);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr auto', gap: 3, alignItems: 'center', pr: 1 }}>
      <Typography>Aperture</Typography>
      <Slider
        size="small"
        aria-label="Aperture"
        min={0}
        max={stops.length - 1}
        value={at < 0 ? stops.length - 1 : at}
        valueLabelDisplay="off"
        marks={stops.map((n, value) => ({ value, label: value % 3 === 0 ? String(n) : undefined }))}
        getAriaValueText={(k) => formatFNumber(stops[k]!)}
        onChange={(_, k) => onChange(stops[k]!)}
      />
      <Button variant="outlined" disabled={recommended === fNumber} onClick={() => onChange(recommended)}>
        Advised: {formatFNumber(recommended)}
      </Button>
    </Box>
  );
}

function figuresOf({ request, stepScale }: FocusSheet, plan: FocusStackPlan, measured: MeasuredFact | null): Figure[] {
  const { slices, chosen } = plan;
  const step = request.drive === 'focus' ? chooseStep(stepScale, request.overlap) : null;
  return [
    {
      label: 'Frames',
      value: String(slices.length),
      meaning: overlapWords(plan.leastOverlap),
    },
    plan.rail
      ? {
          label: 'Step on the rail',
          value: readableLength(plan.rail.stepMm),
          meaning: `travel ${readableLength(plan.rail.travelMm)}`,
        }
      : {
          label: 'Focus from, to',
          value: `${readableLength(slices[0]!.focusMm)}, ${readableLength(slices.at(-1)!.focusMm)}`,
          meaning: step ? `step setting ${step.setting} of this camera` : 'no step scale for this camera yet',
        },
    {
      label: 'Worst blur',
      value: `${chosen.worstBlurPx.toFixed(1)} px`,
      meaning: `best ${chosen.bestBlurPx.toFixed(1)} px, in focus`,
    },
    widerBy(request, plan, measured),
    { label: 'Time', value: formatDuration(plan.timeS), meaning: `light drifts ${plan.driftEv.toFixed(2)} EV` },
    {
      label: 'Longest shutter',
      value: Number.isFinite(plan.longestExposureS) ? formatShutter(plan.longestExposureS) : 'any',
      meaning: Number.isFinite(plan.longestExposureS)
        ? `keeps movement within ${request.motionLimitPx} px`
        : 'nothing moves',
    },
    {
      label: 'Card space',
      value: formatBytes(plan.bytes.raw),
      meaning: `as 16-bit TIFF ${formatBytes(plan.bytes.tiff)}`,
    },
    {
      label: 'Magnification',
      value: `×${Number(plan.magnification.toPrecision(3))}`,
      meaning: `sharp is ${(plan.cocMm * 1000).toFixed(1)} µm on the sensor`,
    },
  ];
}

/** How much wider the frame must be than the subject: as the lens was measured, else as a thin lens would have it. */
function widerBy(
  { drive }: FocusSheet['request'],
  { breathing, slices }: FocusStackPlan,
  measured: MeasuredFact | null,
) {
  const figure = (margin: number, meaning: string): Figure => ({
    label: 'Frame wider by',
    value: `${(100 * margin).toFixed(1)} %`,
    meaning,
  });
  if (drive === 'rail') return figure(breathing.margin, 'perspective of the travel');
  if (!measured) return figure(breathing.margin, `breathing ×${breathing.scale.toFixed(4)}`);
  const own = measuredBreathing(measured.value, slices[0]!.focusMm, slices.at(-1)!.focusMm);
  const jobs = measured.jobs === 1 ? 'one job' : `${measured.jobs} jobs`;
  return figure(own.margin, `breathing ×${own.scale.toFixed(4)}, measured in ${jobs}`);
}

function overlapWords(least: number | null): string {
  if (least === null) return 'no stack needed';
  return least < 0 ? 'with a gap between slices' : `overlap ${(100 * least).toFixed(0)} % or more`;
}

function SingleFrameWords({ plan }: { readonly plan: FocusStackPlan }) {
  const single = plan.single!;
  const px = (v: number): string => `${v.toFixed(1)} px`;
  return (
    <Box>
      <Typography variant="h3" component="h2">
        {single.enough ? 'One frame is enough' : 'One frame is not enough'}
      </Typography>
      <Typography>
        Focused at {readableLength(single.focusMm)}, both ends blur by {px(single.blurPx)}.{' '}
        {single.third &&
          `A third in (${readableLength(single.third.focusMm)}): ${px(single.third.nearBlurPx)} at the near end, ${px(single.third.farBlurPx)} at the far end. `}
        Focused at infinity, all beyond {readableLength(single.nearLimitMm)} is sharp; trust it from{' '}
        {readableLength(single.trustedMm)} on.
      </Typography>
    </Box>
  );
}

function Schools({ plan, onChoose }: { readonly plan: FocusStackPlan; onChoose(fNumber: number): void }) {
  const schools: readonly (readonly [string, FocusSchool | null])[] = [
    ['Sharpest aperture, more frames', plan.schools.sharpest],
    ['Stopped down, fewer frames', plan.schools.stoppedDown],
    ['This plan', plan.chosen],
  ];
  const cellsOf = (name: string, school: FocusSchool | null): ReactNode[] => {
    if (!school) return ['more than 999 frames', '', '', '', '', ''];
    const { fNumber, frames, bestBlurPx, worstBlurPx, timeS } = school;
    return [
      formatFNumber(fNumber),
      frames,
      `${bestBlurPx.toFixed(1)} px`,
      `${worstBlurPx.toFixed(1)} px`,
      formatDuration(timeS),
      fNumber !== plan.chosen.fNumber && (
        <Button onClick={() => onChoose(fNumber)} aria-label={`Take ${name.toLowerCase()}`}>
          Take it
        </Button>
      ),
    ];
  };
  return (
    <PlainTable
      wide
      label="Both schools"
      heads={['School', 'Aperture', 'Frames', 'In focus', 'Worst place', 'Time', '']}
      rows={schools.map(([name, school]) => ({ name, cells: cellsOf(name, school) }))}
    />
  );
}
