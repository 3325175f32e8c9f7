// The bench: queue of findings, the picture, the open finding, and the trace strip below.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { useParams } from 'react-router';
import { wordsOf } from '../../shared/api';
import { useJob, useMerge, useStrokes } from '../../shared/queries';
import { WorkProgress } from '../../shared/WorkProgress';
import { Bench } from './Bench';

export function BenchScreen() {
  const { jobId } = useParams();
  const job = useJob(jobId);
  const mergeId = job.data?.summary.mergeId;
  const merge = useMerge(mergeId);
  const strokes = useStrokes(mergeId);
  const list = strokes.data?.strokes;
  const painted = useMemo(() => (merge.data && list ? { ...merge.data, strokes: list } : null), [merge.data, list]);
  // While the server is away, what is known stays on the bench.
  const trouble = painted ? null : (merge.error ?? strokes.error);
  // A refetch that failed takes nothing away that is known.
  if (job.isError && !job.data)
    return (
      <Typography sx={{ p: 3 }} color="error">
        {wordsOf(job.error)}
      </Typography>
    );
  if (job.data && !mergeId) {
    return (
      <Box sx={{ p: 3, maxWidth: 560 }}>
        <Typography sx={{ mb: 2 }} color="text.secondary">
          There is no merge to look at yet.
        </Typography>
        {job.data.summary.work && <WorkProgress work={job.data.summary.work} />}
      </Box>
    );
  }
  if (trouble)
    return (
      <Typography sx={{ p: 3 }} color="error">
        {wordsOf(trouble)}
      </Typography>
    );
  if (!painted) return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  return <Bench key={painted.id} merge={painted} />;
}
