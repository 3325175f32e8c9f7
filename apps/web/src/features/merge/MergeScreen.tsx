// The merge of a job: the picture, how it was made, what each frame gives it, and how it could be made otherwise.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useParams } from 'react-router';
import type { Job, Merge, MergeSettings, Work } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { tileUrl, wordsOf } from '../../shared/api';
import { FrameRemarks } from '../../shared/FrameRemarks';
import { KIND_WORDS } from '../../shared/kinds';
import { useJob, useMerge } from '../../shared/queries';
import { WorkProgress } from '../../shared/WorkProgress';
import { FrameShares } from './FrameShares';
import { MergeForm } from './MergeForm';
import { startSettings } from './mergeSettings';
import { PaintedParts } from './PaintedParts';
import { Projections } from './Projections';

export function MergeScreen() {
  const { jobId } = useParams();
  const job = useJob(jobId);
  const merge = useMerge(job.data?.summary.mergeId);
  if (job.isError || merge.isError)
    return (
      <Typography sx={{ p: 3 }} color="error">
        {wordsOf(job.error ?? merge.error)}
      </Typography>
    );
  if (!job.data) return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  const main = job.data.work.filter((w) => w.kind !== 'intake').at(-1);
  const unfinished = main && main.status !== 'done' ? main : null;
  // Another merge begins with its own settings.
  return <Workspace key={merge.data?.id ?? 'none'} job={job.data} merge={merge.data ?? null} unfinished={unfinished} />;
}

interface WorkspaceProps {
  readonly job: Job;
  readonly merge: Merge | null;
  readonly unfinished: Work | null;
}

function Workspace({ job, merge, unfinished }: WorkspaceProps) {
  const [settings, setSettings] = useState<MergeSettings>(() => startSettings(merge));
  const change = (part: Partial<MergeSettings>): void => setSettings((s) => ({ ...s, ...part }));
  const { kind, mergeId } = job.summary;
  const painting = kind === 'bracket' && settings.method === 'painted';
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateColumns: '1fr 340px' }}>
      <Box component="section" aria-label="Merge" tabIndex={0} sx={{ overflow: 'auto', p: 2.5, minWidth: 0 }}>
        <Typography variant="h2" component="h1" sx={{ mb: 1 }}>
          {KIND_WORDS[kind]}, merged
        </Typography>
        {merge && painting && <PaintedParts merge={merge} settings={settings} onChange={change} />}
        {merge && <Made merge={merge} />}
        {!merge && (
          <Typography color="text.secondary">
            {mergeId ? 'Loading …' : 'Nothing merged yet. Choose how on the right, or start from Frames.'}
          </Typography>
        )}
      </Box>
      <Box
        component="aside"
        aria-label="How it is merged"
        sx={{
          borderLeft: `1px solid ${GREY.rule}`,
          p: 2,
          overflow: 'auto',
          display: 'grid',
          gap: 2,
          alignContent: 'start',
        }}
      >
        <MergeForm job={job} merge={merge} busy={isActive(unfinished)} settings={settings} onChange={change} />
        {unfinished && <WorkProgress work={unfinished} />}
      </Box>
    </Box>
  );
}

function isActive(work: { readonly status: string } | null): boolean {
  return work !== null && ['queued', 'running', 'paused'].includes(work.status);
}

function Made({ merge }: { readonly merge: Merge }) {
  const { facts } = merge;
  return (
    <Box sx={{ display: 'grid', gap: 2.5, alignContent: 'start' }}>
      <Box sx={{ bgcolor: '#777777', display: 'flex', justifyContent: 'center' }}>
        <img
          src={tileUrl(`r-${merge.id}`, 'full', '!1400,320')}
          alt={`The merge, ${merge.width} × ${merge.height} px`}
          style={{ maxWidth: '100%', maxHeight: 320, objectFit: 'contain' }}
        />
      </Box>
      <Typography>
        {merge.fileName}: {merge.width} × {merge.height} px, {((merge.width * merge.height) / 1e6).toFixed(1)} MP,{' '}
        {merge.bits} bit. {wordsOfFacts(merge)}
      </Typography>
      <FrameRemarks facts={facts} />
      {facts.kind === 'panorama' && facts.composed && <Projections merge={merge} panorama={facts.composed} />}
      <FrameShares merge={merge} />
    </Box>
  );
}

/** What was measured, in a sentence or two. */
function wordsOfFacts({ facts, origin }: Merge): string {
  const parts: string[] = [];
  if (origin === 'imported') parts.push('It was made elsewhere and is laid on its frames as it came.');
  if (facts.kind !== 'bracket' && facts.borders)
    parts.push(
      `${facts.borders.parts} parts, each from one frame, with ${facts.borders.lengthPx.toLocaleString('en-GB')} px of borders between them.`,
    );
  if (facts.kind === 'panorama' && facts.composed) {
    const { disagreement, lightResidual, cropLoss } = facts.composed;
    parts.push(
      `Under the seams frames differ by ${(100 * disagreement).toFixed(1)} % of the tone scale; light was evened to within ${(100 * lightResidual).toFixed(1)} %; the crop costs ${(100 * cropLoss).toFixed(0)} % of what the frames cover.`,
    );
  }
  if (facts.kind === 'bracket' && facts.moving !== null)
    parts.push(
      facts.moving === 0
        ? 'Nothing moved between the frames.'
        : `Something moved in ${(100 * facts.moving).toFixed(1)} % of the picture: there it comes from the frames that agree with the reference.`,
    );
  return parts.join(' ');
}
