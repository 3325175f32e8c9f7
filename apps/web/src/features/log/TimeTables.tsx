// Where people's time goes: by stage of the work, and by the defect they were at.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { Stage, TimeLog } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { DEFECT_LOOKS } from '../../shared/defects';
import { PlainTable, type PlainRow } from '../../shared/PlainTable';

const STAGES: Readonly<Record<Stage, string>> = {
  frames: 'Frames',
  alignment: 'Alignment',
  merge: 'Merge',
  bench: 'Bench',
  finish: 'Finish',
};
const BAR_PX = 120;

export function TimeTables({ stages, defects }: TimeLog) {
  if (stages.length === 0)
    return (
      <Typography color="text.secondary">
        Nobody has worked on a job yet: time counts while a window is used.
      </Typography>
    );
  return (
    <Box sx={{ display: 'flex', gap: 6, alignItems: 'start', flexWrap: 'wrap' }}>
      <PlainTable
        label="Time by stage"
        heads={['Stage', 'Time', '', 'Jobs']}
        rows={rowsOf(stages.map(({ stage, ...rest }) => ({ name: STAGES[stage], ...rest })))}
      />
      {defects.length > 0 && (
        <PlainTable
          label="Time by defect"
          heads={['At a finding of', 'Time', '', 'Jobs']}
          rows={rowsOf(defects.map(({ defect, ...rest }) => ({ name: DEFECT_LOOKS[defect].name, ...rest })))}
        />
      )}
    </Box>
  );
}

function rowsOf(sums: readonly { name: string; seconds: number; jobs: number }[]): PlainRow[] {
  const most = Math.max(...sums.map((s) => s.seconds));
  return sums.map(({ name, seconds, jobs }) => ({
    name,
    cells: [
      timeWords(seconds),
      <Box key="bar" sx={{ width: (seconds / most) * BAR_PX, height: 8, bgcolor: GREY.quiet }} />,
      String(jobs),
    ],
  }));
}

/** Seconds as people say them. */
export function timeWords(seconds: number): string {
  if (seconds < 90) return `${Math.round(seconds)} s`;
  return seconds < 5400 ? `${Math.round(seconds / 60)} min` : `${(seconds / 3600).toFixed(1)} h`;
}
