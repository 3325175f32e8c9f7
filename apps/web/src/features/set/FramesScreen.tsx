// The files of a job: drop, choose or name a folder; what each file is; start.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useNavigate, useParams } from 'react-router';
import { isOpenWork, type Job } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { api, wordsOf } from '../../shared/api';
import { Choice } from '../../shared/Choice';
import { KEYS, useJob } from '../../shared/queries';
import { WorkProgress } from '../../shared/WorkProgress';
import { Circumstances } from './Circumstances';
import { DropBox } from './DropBox';
import { FolderForm } from './FolderForm';
import { LinkedFrameForm } from './LinkedFrameForm';
import { PlanPanel } from './PlanPanel';
import { PictureTable } from './PictureTable';
import { useUploads } from './useUploads';

export function FramesScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const uploads = useUploads(jobId);
  if (job.isPending) return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  if (job.isError)
    return (
      <Typography color="error" sx={{ p: 3 }}>
        {wordsOf(job.error)}
      </Typography>
    );
  const frames = job.data.pictures.filter((p) => p.role === 'frame');
  const merges = job.data.pictures.filter((p) => p.role === 'merge');
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateColumns: '1fr 330px' }}>
      <Box sx={{ overflow: 'auto', p: 3 }}>
        <Typography variant="h2" sx={{ mb: 1 }}>
          Frames in shooting order
        </Typography>
        <PictureTable
          jobId={jobId}
          pictures={frames}
          uploads={uploads}
          empty="No frames yet. Drop them on the right."
        />
        <Typography variant="h2" sx={{ mt: 3, mb: 1 }}>
          Merge made elsewhere
        </Typography>
        <PictureTable
          jobId={jobId}
          pictures={merges}
          uploads={null}
          empty="None: Blendrak will merge the frames itself."
        />
        <Circumstances job={job.data} />
        <PlanPanel jobId={jobId} />
      </Box>
      <Box
        sx={{
          borderLeft: `1px solid ${GREY.rule}`,
          p: 2,
          overflow: 'auto',
          display: 'flex',
          flexDirection: 'column',
          gap: 2,
        }}
      >
        <DropBox
          label="Frames"
          hint="JPEG, PNG, TIFF, WebP or AVIF, one size"
          multiple
          onFiles={(files) => uploads.add(files, 'frame')}
        />
        <DropBox
          label="A merge made elsewhere"
          hint="optional; scaled, cropped or toned is fine"
          onFiles={(files) => uploads.add(files, 'merge')}
        />
        <FolderForm jobId={jobId} />
        <LinkedFrameForm jobId={jobId} />
        <KindChoice job={job.data} />
        <StartPanel job={job.data} />
      </Box>
    </Box>
  );
}

const KINDS = [
  ['auto', 'told from the frames'],
  ['focus-stack', 'a focus stack'],
  ['panorama', 'a panorama'],
  ['bracket', 'a bracket'],
] as const;

/** What the frames are taken for. */
function KindChoice({ job: { summary, work } }: { job: Job }) {
  const { enqueueSnackbar } = useSnackbar();
  const client = useQueryClient();
  const { id, kind, isKindOpen } = summary;
  const change = useMutation({
    mutationFn: (wanted: (typeof KINDS)[number][0]) => api.changeJob(id, { kind: wanted }),
    onSuccess: (changed) => client.setQueryData(KEYS.job(id), changed),
    onError: (error) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
  });
  const isBusy = work.some((w) => w.kind === 'process' && isOpenWork(w));
  if (isBusy) return null;
  return (
    <Choice
      label="These frames are"
      value={isKindOpen ? 'auto' : kind}
      choices={KINDS}
      onChange={(wanted) => change.mutate(wanted)}
    />
  );
}

function StartPanel({ job }: { job: Job }) {
  const { enqueueSnackbar } = useSnackbar();
  const navigate = useNavigate();
  const jobId = job.summary.id;
  const start = useMutation({
    mutationFn: () => api.process(jobId),
    onError: (error) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
  });
  const ready = job.pictures.filter((p) => p.role === 'frame' && p.status === 'ready').length;
  const paused = job.work.find((w) => w.status === 'paused');
  const main = paused ?? job.work.filter((w) => w.kind !== 'intake').at(-1);
  const active = main && (main.status === 'running' || main.status === 'queued');
  const imported = job.pictures.some((p) => p.role === 'merge' && p.status === 'ready');
  return (
    <Box
      sx={{ mt: 'auto', pt: 2, borderTop: `1px solid ${GREY.rule}`, display: 'flex', flexDirection: 'column', gap: 1 }}
    >
      {main && main.status !== 'done' && <WorkProgress work={main} />}
      {job.summary.mergeId && !active && (
        <Button variant="contained" onClick={() => void navigate(`/jobs/${jobId}/bench`)}>
          Open the bench ({job.summary.openFindings} open)
        </Button>
      )}
      {!active && (
        <Button
          variant={job.summary.mergeId ? 'outlined' : 'contained'}
          disabled={ready < 2}
          onClick={() => start.mutate()}
        >
          {imported ? 'Align and inspect the merge' : 'Align, merge and inspect'}
        </Button>
      )}
      {ready < 2 && (
        <Typography variant="body2" color="text.secondary">
          At least 2 frames are needed.
        </Typography>
      )}
    </Box>
  );
}
