// Where one stands before the print: a distance to drag, with the places from which findings vanish.
import Box from '@mui/material/Box';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { DEFECT_LOOKS } from '../../shared/defects';
import { distanceWords } from '../../shared/viewing/judge';
import type { ReachingFinding } from './printWords';

/** Nearest and farthest that one stands, mm. */
const [NEAREST, FARTHEST] = [200, 10_000];
const toShare = (mm: number): number => Math.log(mm / NEAREST) / Math.log(FARTHEST / NEAREST);
const toMm = (share: number): number => NEAREST * (FARTHEST / NEAREST) ** share;

interface DistanceLineProps {
  readonly distanceMm: number;
  readonly findings: readonly ReachingFinding[];
  onDistance(mm: number): void;
}

export function DistanceLine({ distanceMm, findings, onDistance }: DistanceLineProps) {
  const known = findings.flatMap(({ finding, farMm }) =>
    farMm === null || farMm < NEAREST ? [] : [{ finding, farMm }],
  );
  const seen = findings.filter(({ farMm }) => farMm === null || farMm >= distanceMm).length;
  return (
    <Box sx={{ px: 3, pt: 0.5, pb: 1, display: 'flex', gap: 3, alignItems: 'center' }}>
      <Typography role="status" variant="body2" sx={{ width: 190, flex: 'none' }}>
        From {distanceWords(distanceMm)}:{' '}
        <b>{seen === 0 ? 'nothing shows' : seen === 1 ? '1 finding shows' : `${seen} findings show`}</b>
      </Typography>
      <Slider
        aria-label="Where you stand"
        size="small"
        min={0}
        max={1}
        step={0.005}
        value={Math.min(1, Math.max(0, toShare(distanceMm)))}
        getAriaValueText={(share) => distanceWords(toMm(share))}
        onChange={(_event, share) => onDistance(Math.round(toMm(share)))}
        marks={[
          ...[200, 500, 1000, 2000, 5000, 10_000].map((mm) => ({ value: toShare(mm), label: distanceWords(mm) })),
          ...known.map(({ farMm }) => ({ value: Math.min(1, toShare(farMm)) })),
        ]}
        sx={{ '& .MuiSlider-markLabel': { fontSize: 11 }, '& .MuiSlider-mark': { width: 2, height: 9 } }}
      />
      <Typography variant="body2" color="text.secondary" noWrap sx={{ width: 210, flex: 'none' }}>
        {farthestWords(known)}
      </Typography>
    </Box>
  );
}

function farthestWords(
  known: readonly { readonly finding: ReachingFinding['finding']; readonly farMm: number }[],
): string {
  const last = known.toSorted((a, b) => b.farMm - a.farMm)[0];
  if (!last) return '';
  return `The last to vanish: ${DEFECT_LOOKS[last.finding.defect].name.toLowerCase()}, ${distanceWords(last.farMm)}`;
}
