// The bench: queue of findings, the picture, the open finding, and the trace strip below.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { useParams } from 'react-router';
import { wordsOf } from '../../shared/api';
import { useFindings, useJob, useMerge, useOperations, useSources, type BenchMerge } from '../../shared/queries';
import { FirstLookPlan } from '../../shared/FirstLookPlan';
import { WorkProgress } from '../../shared/WorkProgress';
import { Bench } from './Bench';
import { useBench } from './store';
import { judge } from '../../shared/viewing/judge';

export function BenchScreen() {
  const { jobId } = useParams();
  const job = useJob(jobId);
  const mergeId = job.data?.summary.mergeId;
  const merge = useMerge(mergeId);
  const findings = useFindings(mergeId);
  const operations = useOperations(mergeId);
  const sources = useSources(mergeId).data;
  const [found, list] = [findings.data?.items, operations.data];
  const items = list?.items;
  const alsoHeldBack = useBench((s) => s.alsoHeldBack);
  const settings = job.data?.viewing;
  const judged = useMemo(
    () => merge.data && found && settings && judge(found, settings, merge.data, alsoHeldBack),
    [alsoHeldBack, found, merge.data, settings],
  );
  const whole = useMemo(
    (): BenchMerge | null =>
      merge.data && judged && items && sources
        ? { ...merge.data, findings: judged.shown, operations: items, sources }
        : null,
    [merge.data, judged, items, sources],
  );
  // While the server is away, what is known stays on the bench.
  const trouble = whole ? null : (merge.error ?? findings.error ?? operations.error);
  // A refetch that failed takes nothing away that is known.
  if (job.isError && !job.data)
    return (
      <Typography sx={{ p: 3 }} color="error">
        {wordsOf(job.error)}
      </Typography>
    );
  if (job.data && !mergeId) {
    const { work } = job.data.summary;
    return (
      <Box sx={{ p: 3 }}>
        <Typography sx={{ mb: 2 }} color="text.secondary">
          There is no merge to look at yet.
        </Typography>
        <Box sx={{ maxWidth: 560 }}>{work && <WorkProgress work={work} brief />}</Box>
        {work?.first && <FirstLookPlan first={work.first} mostWidth={880} mostHeight={520} />}
      </Box>
    );
  }
  if (trouble)
    return (
      <Typography sx={{ p: 3 }} color="error">
        {wordsOf(trouble)}
      </Typography>
    );
  if (!whole || !list || !judged || !settings) return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  return <Bench key={whole.id} merge={whole} list={list} viewing={settings} heldBack={judged} />;
}
