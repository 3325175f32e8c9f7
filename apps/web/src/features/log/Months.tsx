// Findings per job over the months, as a line with its table beside.
import Box from '@mui/material/Box';
import { Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { Log } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { PlainTable } from '../../shared/PlainTable';

export function Months({ months }: Pick<Log, 'months'>) {
  const rows = months.map(({ month, jobs, findings }) => ({ month, jobs, each: findings / jobs }));
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 300px', gap: 3, alignItems: 'start' }}>
      <Box sx={{ height: 180 }} aria-hidden>
        <ResponsiveContainer>
          <LineChart accessibilityLayer={false} data={rows} margin={{ top: 8, right: 16, bottom: 0, left: -16 }}>
            <XAxis dataKey="month" stroke={GREY.quiet} fontSize={11} />
            <YAxis stroke={GREY.quiet} fontSize={11} allowDecimals={false} />
            <Tooltip
              contentStyle={{ background: GREY.panel, border: `1px solid ${GREY.rule}` }}
              formatter={(value) => [Number(value).toFixed(1), 'findings per job']}
            />
            <Line
              dataKey="each"
              stroke={GREY.text}
              strokeWidth={2}
              dot={{ r: 3, fill: GREY.text }}
              isAnimationActive={false}
            />
          </LineChart>
        </ResponsiveContainer>
      </Box>
      <PlainTable
        label="Findings per job by month"
        heads={['Month', 'Jobs', 'Findings per job']}
        rows={rows.map(({ month, jobs, each }) => ({ name: month, cells: [String(jobs), each.toFixed(1)] }))}
      />
    </Box>
  );
}
