// Print check: pixels, paper and the eye.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link } from 'react-router';
import { formatBytes, readableLength, type FieldProblem } from '@blendrak/core/plan';
import { ACUITY_ARCMIN, checkPrint, CLOSE_LOOK_MM, type PrintCheck } from '@blendrak/core/print';
import { Figures } from './answers/Figures';
import { Warnings } from './answers/Warnings';
import { ChoiceField, FiniteLengthField, NumberField } from './fields/fields';
import { Group } from './fields/Group';

interface PrintFields {
  readonly pixelsWide: number;
  readonly pixelsHigh: number;
  readonly ppi: number;
  readonly viewingMm: number | null;
  readonly sensorWidthMm: number;
}

const START: PrintFields = { pixelsWide: 6000, pixelsHigh: 4000, ppi: 300, viewingMm: null, sensorWidthMm: 36 };
const LIMITS: readonly (readonly [keyof PrintFields, string, number, number, string])[] = [
  ['pixelsWide', 'pixels across', 1, 1_000_000, 'px'],
  ['pixelsHigh', 'pixels down', 1, 1_000_000, 'px'],
  ['ppi', 'resolution', 10, 2400, 'ppi'],
  ['viewingMm', 'viewing distance', 50, 1_000_000, 'mm'],
  ['sensorWidthMm', 'sensor width', 2, 300, 'mm'],
];

export function PrintScreen() {
  const [fields, setFields] = useState(START);
  const set = (part: Partial<PrintFields>): void => setFields((f) => ({ ...f, ...part }));
  const problems = problemsOf(fields);
  const check = problems.length > 0 ? null : checkPrint({ ...fields, viewingDistanceMm: fields.viewingMm });
  const field = { problems };
  return (
    <Box sx={{ height: '100%', overflow: 'auto' }}>
      <Box sx={{ maxWidth: 1080, mx: 'auto', p: 3, display: 'grid', gap: 2.5 }}>
        <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2 }}>
          <Typography variant="h1" sx={{ flex: 1 }}>
            Print check
          </Typography>
          <Button component={Link} to="/plan">
            All plans
          </Button>
        </Box>
        <Box sx={{ display: 'grid', gridTemplateColumns: '372px 1fr', gap: 4, alignItems: 'start' }}>
          <Group title="Picture and print">
            <NumberField
              {...field}
              label="Pixels across"
              path="pixelsWide"
              unit="px"
              digits={7}
              value={fields.pixelsWide}
              onChange={(pixelsWide) => set({ pixelsWide })}
            />
            <NumberField
              {...field}
              label="Pixels down"
              path="pixelsHigh"
              unit="px"
              digits={7}
              value={fields.pixelsHigh}
              onChange={(pixelsHigh) => set({ pixelsHigh })}
            />
            <NumberField
              {...field}
              label="Resolution"
              path="ppi"
              unit="ppi"
              value={fields.ppi}
              help="of the print"
              onChange={(ppi) => set({ ppi })}
            />
            <FiniteLengthField
              {...field}
              label="Sensor width"
              path="sensorWidthMm"
              usual="mm"
              value={fields.sensorWidthMm}
              help="for the enlargement"
              onChange={(sensorWidthMm) => set({ sensorWidthMm })}
            />
            <ChoiceField
              label="Viewed from"
              value={fields.viewingMm === null ? 'diagonal' : 'distance'}
              options={[
                ['diagonal', 'as far as the print’s diagonal'],
                ['distance', 'a distance'],
              ]}
              onChange={(choice) => set({ viewingMm: choice === 'diagonal' ? null : CLOSE_LOOK_MM })}
            />
            {fields.viewingMm !== null && (
              <FiniteLengthField
                {...field}
                label="Viewing distance"
                path="viewingMm"
                usual="cm"
                value={fields.viewingMm}
                help="30 cm is a close look"
                onChange={(viewingMm) => set({ viewingMm })}
              />
            )}
          </Group>
          <Box sx={{ display: 'grid', gap: 2 }}>
            <Warnings problems={problems} />
            {check && <Answer check={check} ppi={fields.ppi} />}
          </Box>
        </Box>
      </Box>
    </Box>
  );
}

function problemsOf(fields: PrintFields): FieldProblem[] {
  return LIMITS.flatMap(([field, name, low, high, unit]) => {
    const value = fields[field];
    if (value === null || (value >= low && value <= high)) return [];
    return [
      {
        field,
        severity: 'error' as const,
        message: `${name}: ${value} ${unit}. From ${low} to ${high} ${unit} is accepted.`,
      },
    ];
  });
}

function Answer({ check, ppi }: { readonly check: PrintCheck; readonly ppi: number }) {
  const inches = (mm: number): string => (mm / 25.4).toFixed(1);
  return (
    <>
      <Figures
        figures={[
          {
            label: 'Print',
            value: `${(check.widthMm / 10).toFixed(1)} × ${(check.heightMm / 10).toFixed(1)} cm`,
            meaning: `${inches(check.widthMm)} × ${inches(check.heightMm)} in`,
          },
          {
            label: 'Picture',
            value: `${Number(check.megapixels.toPrecision(4))} MP`,
            meaning: `${formatBytes(check.bytes16)} at 16 bits`,
          },
          {
            label: 'One pixel',
            value: `${check.pixelArcmin.toFixed(2)}′`,
            meaning: `of arc from ${readableLength(check.viewingDistanceMm)}`,
          },
          { label: 'Enlargement', value: `×${check.enlargement!.toFixed(1)}`, meaning: 'of the sensor' },
        ]}
      />
      <Typography variant="h3" component="h2">
        {check.morePixelsShow ? 'More pixels would show' : 'More pixels would not show'}
      </Typography>
      <Typography>
        {check.morePixelsShow
          ? `From ${readableLength(check.viewingDistanceMm)} the eye uses up to ${check.usefulPpi.toFixed(0)} ppi: a lens ${check.usefulFactor.toFixed(1)} times as long, with the frames that it needs, would be seen in this print.`
          : `From ${readableLength(check.viewingDistanceMm)} the eye uses no more than ${check.usefulPpi.toFixed(0)} ppi of these ${ppi}: neither a longer lens nor more frames would be seen. The picture could be printed ${(ppi / check.usefulPpi).toFixed(1)} times as large.`}
      </Typography>
      <Typography variant="body2" color="text.secondary">
        A healthy eye tells {ACUITY_ARCMIN} arc minute apart in good light.
      </Typography>
    </>
  );
}
