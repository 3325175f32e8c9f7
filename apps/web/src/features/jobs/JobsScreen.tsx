// All jobs: thumbnail, kind, stage, open findings; a new job; what the simulated camera delivers.
import DeleteOutline from '@mui/icons-material/DeleteOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useState, type FormEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import type { JobSummary } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { api, tileUrl, wordsOf } from '../../shared/api';
import { kindWords } from '../../shared/kinds';
import { KEYS, useJobs } from '../../shared/queries';
import { WorkProgress } from '../../shared/WorkProgress';

export function JobsScreen() {
  const jobs = useJobs();
  return (
    <Box sx={{ height: '100%', overflow: 'auto' }}>
      <Box sx={{ maxWidth: 1080, mx: 'auto', p: 3 }}>
        <Box sx={{ display: 'flex', alignItems: 'end', justifyContent: 'space-between', gap: 3, mb: 2 }}>
          <Typography variant="h1">Jobs</Typography>
          <NewJob />
        </Box>
        {jobs.isPending && <Typography color="text.secondary">Loading jobs …</Typography>}
        {jobs.isError && <Typography color="error">{wordsOf(jobs.error)}</Typography>}
        {jobs.data?.length === 0 && (
          <Typography color="text.secondary" sx={{ py: 6, textAlign: 'center' }}>
            No jobs yet. Name one above, then drop the frames of a set into it, or let the simulated camera take some.
          </Typography>
        )}
        <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0, borderTop: `1px solid ${GREY.rule}` }}>
          {jobs.data?.map((job) => (
            <JobRow key={job.id} job={job} />
          ))}
        </Box>
      </Box>
    </Box>
  );
}

function NewJob() {
  const [name, setName] = useState('');
  const navigate = useNavigate();
  const { enqueueSnackbar } = useSnackbar();
  const create = useMutation({
    mutationFn: api.createJob,
    onSuccess: (job) => void navigate(`/jobs/${job.id}/frames`),
    onError: (error) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (name.trim()) create.mutate(name.trim());
  };
  return (
    <Box component="form" onSubmit={submit} sx={{ display: 'flex', gap: 1 }}>
      <TextField
        size="small"
        label="Name of the new job"
        value={name}
        onChange={(e) => setName(e.target.value)}
        sx={{ width: 300 }}
      />
      <Button type="submit" variant="contained" disabled={!name.trim() || create.isPending}>
        New job
      </Button>
    </Box>
  );
}

function JobRow({ job }: { job: JobSummary }) {
  const to = `/jobs/${job.id}/${job.mergeId ? 'bench' : 'frames'}`;
  return (
    <Box
      component="li"
      sx={{
        display: 'grid',
        gridTemplateColumns: '132px 1fr 300px 40px',
        gap: 2.5,
        alignItems: 'center',
        py: 1.5,
        borderBottom: `1px solid ${GREY.rule}`,
      }}
    >
      <Thumbnail job={job} />
      <Box sx={{ minWidth: 0 }}>
        <Typography component={Link} to={to} sx={{ fontWeight: 650, fontSize: 16, color: 'inherit' }}>
          {job.name}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {kindWords(job)}, {job.frames} {job.frames === 1 ? 'frame' : 'frames'}
          {job.mergeFile ? ` · ${job.mergeFile}` : ''}
        </Typography>
      </Box>
      {job.work ? <WorkProgress work={job.work} brief /> : <Verdict job={job} />}
      <RemoveJob job={job} />
    </Box>
  );
}

function Thumbnail({ job }: { job: JobSummary }) {
  return (
    <Box
      sx={{
        width: 132,
        height: 92,
        bgcolor: '#777',
        display: 'grid',
        gridTemplate: '100% / 100%',
        placeItems: 'center',
      }}
    >
      {job.thumbnailId ? (
        <img
          src={tileUrl(job.thumbnailId, 'full', '!264,184')}
          alt=""
          style={{ width: '100%', height: '100%', objectFit: 'contain' }}
        />
      ) : (
        <Typography sx={{ color: '#1c1c1c', fontSize: 12 }}>no picture yet</Typography>
      )}
    </Box>
  );
}

function Verdict({ job }: { job: JobSummary }) {
  if (!job.mergeId)
    return <Typography color="text.secondary">{job.frames ? 'Frames in, not merged yet' : 'Empty'}</Typography>;
  if (job.allFindings === 0) return <Typography color="success.main">Nothing to report</Typography>;
  if (job.openFindings === 0)
    return <Typography color="success.main">All {job.allFindings} findings settled</Typography>;
  return (
    <Typography>
      <b>{job.openFindings}</b> of {job.allFindings} findings open
    </Typography>
  );
}

function RemoveJob({ job }: { job: JobSummary }) {
  const client = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  const [sure, setSure] = useState(false);
  const remove = useMutation({
    mutationFn: () => api.removeJob(job.id),
    onSuccess: () => client.invalidateQueries({ queryKey: KEYS.jobs }),
    onError: (error) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
  });
  if (sure) {
    return (
      <Button
        color="error"
        onClick={() => remove.mutate()}
        onBlur={() => setSure(false)}
        autoFocus
        sx={{ minWidth: 0, px: 0.5, fontSize: 11 }}
      >
        Remove?
      </Button>
    );
  }
  return (
    <Tooltip title="Remove this job and its stored pictures (files in your own folders stay)">
      <IconButton aria-label={`Remove ${job.name}`} onClick={() => setSure(true)}>
        <DeleteOutline fontSize="small" />
      </IconButton>
    </Tooltip>
  );
}
