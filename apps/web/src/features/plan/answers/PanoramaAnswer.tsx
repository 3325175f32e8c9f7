// A panorama's answer: frames on the canvas, projections side by side, print, parallax.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { formatBytes, formatDuration, planPanorama, type PanoramaPlan, type Projection } from '@blendrak/core/plan';
import { PlainTable } from '../../../shared/PlainTable';
import type { PanoramaSheet } from '../PanoramaForm';
import { FramesPicture } from '../pictures/FramesPicture';
import { Figures, type Figure } from './Figures';
import { Warnings } from './Warnings';

const NAMES: Readonly<Record<Projection, string>> = {
  flat: 'Flat perspective',
  cylindrical: 'Cylindrical',
  spherical: 'Spherical',
  repositioned: 'Plain repositioning',
};

const PARALLAX = {
  unseen: 'goes unseen',
  'hidden-by-seam': 'a seam through texture hides it',
  'breaks-edges': 'edges will break',
} as const;

interface PanoramaAnswerProps {
  readonly sheet: PanoramaSheet;
  readonly answer: ReturnType<typeof planPanorama>;
  onChange(sheet: PanoramaSheet): void;
}

export function PanoramaAnswer({ sheet, answer, onChange }: PanoramaAnswerProps) {
  const { plan, problems } = answer;
  const { request } = sheet;
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      {plan && <FramesPicture request={request} plan={plan} />}
      <Warnings problems={problems} />
      {plan && (
        <>
          <Figures figures={figuresOf(sheet, plan)} />
          <Canvases
            plan={plan}
            chosen={request.projection}
            onChoose={(projection) => onChange({ ...sheet, request: { ...request, projection } })}
          />
        </>
      )}
    </Box>
  );
}

function figuresOf({ request }: PanoramaSheet, plan: PanoramaPlan): Figure[] {
  const { canvas } = plan;
  return [
    {
      label: 'Frames',
      value: String(plan.frames),
      meaning: `${plan.rows} ${plan.rows === 1 ? 'row' : 'rows'} of ${plan.columns}${request.exposuresEach > 1 ? `, ${request.exposuresEach} exposures each` : ''}`,
    },
    {
      label: 'Turn',
      value: `${plan.turnDeg.toFixed(1)}°`,
      meaning:
        plan.rows > 1
          ? `tilt ${plan.tiltDeg.toFixed(1)}°`
          : `frame ${plan.frameDeg[0].toFixed(1)}° × ${plan.frameDeg[1].toFixed(1)}°`,
    },
    {
      label: 'Focal length',
      value: `${Number(plan.focalLengthMm.toPrecision(3))} mm`,
      meaning: `overlap ${(100 * plan.trueOverlap[0]).toFixed(0)} %`,
    },
    {
      label: 'Height after cropping',
      value: `${plan.cleanVerticalDeg.toFixed(0)}°`,
      meaning: plan.cleanVerticalDeg + 1e-9 < request.verticalDeg ? `short of ${request.verticalDeg}°` : 'enough',
    },
    { label: 'Canvas', value: `${canvas.width} × ${canvas.height}`, meaning: `${canvas.megapixels.toFixed(1)} MP` },
    {
      label: 'Print',
      value: `${(canvas.printWidthMm / 10).toFixed(0)} × ${(canvas.printHeightMm / 10).toFixed(0)} cm`,
      meaning: `at ${request.ppi} ppi`,
    },
    {
      label: 'Parallax',
      value: `${plan.parallaxPx.toFixed(1)} px`,
      meaning: `${PARALLAX[plan.parallax]}; ${plan.allowedOffsetMm >= 500 ? 'any' : `${plan.allowedOffsetMm.toFixed(1)} mm`} off is allowed`,
    },
    { label: 'Time', value: formatDuration(plan.timeS), meaning: `card ${formatBytes(plan.bytes.raw)}` },
  ];
}

function Canvases({
  plan,
  chosen,
  onChoose,
}: {
  readonly plan: PanoramaPlan;
  readonly chosen: Projection;
  onChoose(projection: Projection): void;
}) {
  return (
    <Box>
      <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
        Projections side by side
      </Typography>
      <PlainTable
        wide
        label="Projections"
        heads={['Projection', 'Canvas, px', 'MP', '16-bit file', 'Memory to edit', '']}
        rows={plan.canvases.map((c) => ({
          name: NAMES[c.projection],
          cells: [
            `${c.width} × ${c.height}`,
            c.megapixels.toFixed(1),
            formatBytes(c.bytes16),
            formatBytes(c.memoryBytes),
            c.projection === chosen ? (
              'this plan'
            ) : (
              <Button onClick={() => onChoose(c.projection)} aria-label={`Take ${NAMES[c.projection].toLowerCase()}`}>
                Take it
              </Button>
            ),
          ],
        }))}
      />
    </Box>
  );
}
