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
import { useJob, useMerge } from '../../shared/queries';

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
  const { frames } = merge.data;
  const rows = frames.map((f, k) => ({
    frame: k + 1,
    breathing: (f.scale / frames[merge.data.reference]!.scale - 1) * 100,
    x: f.shiftPx[0] - frames[merge.data.reference]!.shiftPx[0],
    y: f.shiftPx[1] - frames[merge.data.reference]!.shiftPx[1],
    residual: f.residualPx,
    share: f.share * 100,
  }));
  return (
    <Box sx={{ height: '100%', overflow: 'auto', p: 3 }}>
      <Summary merge={merge.data} />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 2, mb: 3 }}>
        <Chart title="Breathing, % of the reference" rows={rows} keys={['breathing']} digits={2} />
        <Chart title="Shift against the reference, px" rows={rows} keys={['x', 'y']} digits={1} />
        <Chart title="Residual, px" rows={rows} keys={['residual']} digits={2} />
        <Chart title="Share of the merge, %" rows={rows} keys={['share']} digits={0} />
      </Box>
      <FrameTable merge={merge.data} />
    </Box>
  );
}

function Summary({ merge }: { merge: Merge }) {
  const worst = merge.frames.reduce((w, f) => (f.residualPx > w.residualPx ? f : w));
  return (
    <Typography sx={{ mb: 2 }}>
      {merge.frames.length} frames in the geometry of{' '}
      <b>{merge.origin === 'own' ? merge.frames[merge.reference]!.fileName : merge.fileName}</b>. Largest residual{' '}
      <Mono>{worst.residualPx.toFixed(2)} px</Mono> in {worst.fileName}.{' '}
      {merge.focusAxis === 'breathing'
        ? 'Focus positions are measured from breathing.'
        : 'This lens shows no breathing: equal focus steps are assumed.'}
    </Typography>
  );
}

interface Row {
  readonly frame: number;
  readonly breathing: number;
  readonly x: number;
  readonly y: number;
  readonly residual: number;
  readonly share: number;
}

function Chart({
  title,
  rows,
  keys,
  digits,
}: {
  title: string;
  rows: readonly Row[];
  keys: readonly (keyof Row)[];
  digits: number;
}) {
  return (
    <Box>
      <Typography variant="h3" sx={{ mb: 0.5 }}>
        {title}
        {keys.length > 1 && (
          <Box component="span" sx={{ fontWeight: 400, color: 'text.secondary' }}>
            {' '}
            (x solid, y dashed)
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
    'Focus position',
  ];
  return (
    <Table
      size="small"
      sx={{ '& td': { fontFamily: MONO, fontSize: 12.5 }, '& td:first-of-type': { fontFamily: 'inherit' } }}
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
              {k === merge.reference ? ' (reference)' : ''}
            </TableCell>
            {cellsOf(f).map((text, i) => (
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
    f.residualPx.toFixed(2),
    `${(100 * f.correlation).toFixed(0)} %`,
    `${(100 * f.coverage).toFixed(1)} %`,
    `${(100 * f.share).toFixed(1)} %`,
    f.focusPosition.toFixed(2),
  ];
}

function Mono({ children }: { children: React.ReactNode }) {
  return <span style={{ fontFamily: MONO }}>{children}</span>;
}
