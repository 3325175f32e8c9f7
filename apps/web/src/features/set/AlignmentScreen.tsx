// How the frames lie on each other and in the merge: table and charts.
import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useParams } from 'react-router';
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { Merge, MergeFrame } from '@blendrak/contract';
import { GREY, MONO } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { FrameRemarks } from '../../shared/FrameRemarks';
import { KIND_WORDS } from '../../shared/kinds';
import { useJob, useMerge } from '../../shared/queries';
import { residualWords, worstResidual } from '../../shared/residuals';
import { WorkProgress } from '../../shared/WorkProgress';
import { AlignmentForm } from './AlignmentForm';
import { alignedWords } from './alignmentSettings';
import { ResidualMap } from './ResidualMap';

export function AlignmentScreen() {
  const { jobId } = useParams();
  const job = useJob(jobId);
  const merge = useMerge(job.data?.summary.mergeId);
  if (job.data && !job.data.summary.mergeId) {
    return (
      <Typography sx={{ p: 3 }} color="text.secondary">
        Nothing aligned yet. Start from Frames.
      </Typography>
    );
  }
  if (merge.isError)
    return (
      <Typography sx={{ p: 3 }} color="error">
        {wordsOf(merge.error)}
      </Typography>
    );
  if (!merge.data) return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  const rows = rowsOf(merge.data);
  return (
    <Box component="section" aria-label="Alignment" tabIndex={0} sx={{ height: '100%', overflow: 'auto', p: 3 }}>
      <Typography variant="h2" component="h1" sx={{ mb: 1 }}>
        {KIND_WORDS[merge.data.kind]}, aligned
      </Typography>
      <Summary merge={merge.data} />
      <FrameRemarks facts={merge.data.facts} />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 2, mb: 3 }}>
        {CHARTS[merge.data.kind].map((chart) => (
          <Chart key={chart.title} {...chart} rows={rows} />
        ))}
      </Box>
      <ResidualMap merge={merge.data} />
      <FrameTable merge={merge.data} />
      <AlignmentForm key={merge.data.id} merge={merge.data} busy={job.data?.summary.work?.status === 'running'} />
      {job.data?.summary.work && <WorkProgress work={job.data.summary.work} />}
    </Box>
  );
}

interface ChartSpec {
  readonly title: string;
  readonly keys: readonly (keyof Row)[];
  readonly legend?: string;
  readonly digits: number;
}

const RESIDUAL: ChartSpec = { title: 'Residual, px', keys: ['residual'], digits: 2 };
const SHARE: ChartSpec = { title: 'Share of the merge, %', keys: ['share'], digits: 0 };
const SHIFT: ChartSpec = { title: 'Shift, px', legend: 'x solid, y dashed', keys: ['x', 'y'], digits: 1 };

const CHARTS: Readonly<Record<Merge['kind'], readonly ChartSpec[]>> = {
  'focus-stack': [{ title: 'Breathing, %', keys: ['breathing'], digits: 2 }, SHIFT, RESIDUAL, SHARE],
  panorama: [
    { title: 'Turned to the right, °', keys: ['yaw'], digits: 0 },
    { title: 'Up and roll, °', legend: 'up solid, roll dashed', keys: ['pitch', 'roll'], digits: 1 },
    RESIDUAL,
    SHARE,
  ],
  bracket: [{ title: 'Exposure, EV', keys: ['ev'], digits: 1 }, SHIFT, RESIDUAL, SHARE],
};

const FOCUS_WORDS = {
  breathing: 'Focus positions are measured from breathing.',
  'equal-steps': 'This lens shows no breathing: equal focus steps are assumed.',
} as const;

/** What a crop to the part that all frames cover would cost at most. */
function lossWords({ frames }: Merge): string {
  const least = Math.min(...frames.map((f) => f.coverage));
  return least > 0.9995
    ? 'All frames cover the whole merge.'
    : `A crop to what all frames cover loses at least ${(100 * (1 - least)).toFixed(1)} %.`;
}

function Summary({ merge }: { merge: Merge }) {
  const worst = worstResidual(merge.frames);
  const left = worst ? (
    <>
      Largest residual <Mono>{worst.residualPx.toFixed(2)} px</Mono> in {worst.frame.fileName}.
    </>
  ) : (
    'How far they miss each other is not known: nothing ties them.'
  );
  const { facts } = merge;
  const panorama = facts.kind === 'panorama' ? facts.composed : null;
  const bent = facts.bendPx;
  if (panorama)
    return (
      <Typography sx={{ mb: 2 }}>
        {merge.frames.length} frames as one camera that turned on the spot, focal length{' '}
        <Mono>{panorama.focalPx.toFixed(0)} px</Mono>, distortion{' '}
        <Mono>{(100 * panorama.distortion[0]).toFixed(2)} %</Mono>. {left} The largest clean rectangle loses{' '}
        <Mono>{(100 * panorama.cropLoss).toFixed(0)} %</Mono> of what the frames cover.
        {bent !== null && ` Local shifts bend straight lines by up to ${bent.toFixed(2)} px.`}
      </Typography>
    );
  return (
    <Typography sx={{ mb: 2 }}>
      {merge.frames.length} frames in the geometry of{' '}
      <b>{merge.origin === 'own' ? merge.frames[merge.reference]!.fileName : merge.fileName}</b>. {left}{' '}
      {facts.kind === 'focus-stack' && facts.focus && FOCUS_WORDS[facts.focus.source]}{' '}
      {merge.kind !== 'panorama' && `${alignedWords(merge)} ${lossWords(merge)}`}
    </Typography>
  );
}

interface Row {
  readonly frame: number;
  readonly yaw: number;
  readonly pitch: number;
  readonly roll: number;
  readonly ev: number;
  readonly breathing: number;
  readonly x: number;
  readonly y: number;
  readonly residual: number | null;
  readonly share: number;
}

function rowsOf({ frames, reference, facts }: Merge): Row[] {
  const base = frames[reference]!;
  const evs = facts.kind === 'bracket' ? facts.evs : [];
  return frames.map((f, k) => ({
    frame: k + 1,
    ...attitudeOf(f),
    ev: evs[k] ?? 0,
    breathing: (f.scale / base.scale - 1) * 100,
    x: f.shiftPx[0] - base.shiftPx[0],
    y: f.shiftPx[1] - base.shiftPx[1],
    residual: f.residualPx,
    share: f.share * 100,
  }));
}

/** Where a turned camera looks on its canvas: right, up, and how it is rolled, degrees. */
function attitudeOf({ geometry }: MergeFrame): Pick<Row, 'yaw' | 'pitch' | 'roll'> {
  if (geometry.model !== 'rotating-camera') return { yaw: 0, pitch: 0, roll: 0 };
  const r = geometry.rotation;
  const degrees = 180 / Math.PI;
  return {
    yaw: Math.atan2(r[6], r[8]) * degrees,
    pitch: -Math.asin(Math.max(-1, Math.min(1, r[7]))) * degrees,
    roll: Math.atan2(r[1], r[4]) * degrees,
  };
}

function Chart({ title, legend, rows, keys, digits }: ChartSpec & { rows: readonly Row[] }) {
  return (
    <Box>
      <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
        {title}
        {legend && (
          <Box component="span" sx={{ fontWeight: 400, color: 'text.secondary' }}>
            {' '}
            ({legend})
          </Box>
        )}
      </Typography>
      <Box sx={{ height: 150, bgcolor: GREY.panel, pt: 1 }}>
        <ResponsiveContainer>
          <LineChart data={[...rows]} margin={{ top: 4, right: 12, bottom: 0, left: -12 }}>
            <CartesianGrid stroke={GREY.rule} vertical={false} />
            <XAxis dataKey="frame" stroke={GREY.quiet} tick={{ fontSize: 11 }} />
            <YAxis
              stroke={GREY.quiet}
              tick={{ fontSize: 11 }}
              width={52}
              tickFormatter={(v: number) => v.toFixed(digits)}
            />
            <Tooltip
              contentStyle={{ background: GREY.raised, border: 'none' }}
              formatter={(v) => Number(v).toFixed(digits + 1)}
            />
            {keys.map((key, i) => (
              <Line
                key={key}
                dataKey={key}
                stroke={GREY.text}
                strokeDasharray={i === 1 ? '4 3' : ''}
                dot={{ r: 2.5, fill: GREY.text }}
                isAnimationActive={false}
              />
            ))}
          </LineChart>
        </ResponsiveContainer>
      </Box>
    </Box>
  );
}

function FrameTable({ merge }: { merge: Merge }) {
  const heads = [
    'Frame',
    'Shift x, y (px)',
    'Scale',
    'Rotation (°)',
    'Residual (px)',
    'Agreement',
    'Coverage',
    'Share',
    ...(merge.kind === 'focus-stack' ? ['Focus position'] : []),
  ];
  return (
    <Table
      size="small"
      sx={{ mb: 3, '& td': { fontFamily: MONO, fontSize: 12.5 }, '& td:first-of-type': { fontFamily: 'inherit' } }}
    >
      <TableHead>
        <TableRow>
          {heads.map((h, i) => (
            <TableCell key={h} align={i === 0 ? 'left' : 'right'}>
              {h}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {merge.frames.map((f, k) => (
          <TableRow key={f.pictureId}>
            <TableCell>
              {f.fileName}
              {k === merge.reference && merge.kind !== 'panorama' ? ' (reference)' : ''}
            </TableCell>
            {[...cellsOf(f), ...focusCells(merge, k)].map((text, i) => (
              <TableCell key={i} align="right">
                {text}
              </TableCell>
            ))}
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

function cellsOf(f: MergeFrame): string[] {
  return [
    `${f.shiftPx[0].toFixed(1)}, ${f.shiftPx[1].toFixed(1)}`,
    f.scale.toFixed(4),
    f.rotationDeg.toFixed(3),
    residualWords(f.residualPx),
    `${(100 * f.correlation).toFixed(0)} %`,
    `${(100 * f.coverage).toFixed(1)} %`,
    `${(100 * f.share).toFixed(1)} %`,
  ];
}

/** Where a stack's frame lies on the focus axis; its number where nobody looked. */
function focusCells({ facts }: Merge, k: number): string[] {
  return facts.kind === 'focus-stack' ? [(facts.focus?.positions[k] ?? k).toFixed(2)] : [];
}

function Mono({ children }: { children: React.ReactNode }) {
  return <span style={{ fontFamily: MONO }}>{children}</span>;
}
