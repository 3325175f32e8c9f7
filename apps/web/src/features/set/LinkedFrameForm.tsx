// Takes the merge of another job as a frame.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useMutation } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useState } from 'react';
import { api, wordsOf } from '../../shared/api';
import { useJobs } from '../../shared/queries';

export function LinkedFrameForm({ jobId }: { readonly jobId: string }) {
  const jobs = useJobs();
  const { enqueueSnackbar } = useSnackbar();
  const [source, setSource] = useState('');
  const merged = jobs.data?.filter((j) => j.id !== jobId && j.mergeId !== null) ?? [];
  const add = useMutation({
    mutationFn: () => api.addLinkedFrame(jobId, source),
    onSuccess: () => setSource(''),
    onError: (error) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
  });
  if (merged.length === 0) return null;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <TextField
        select
        size="small"
        label="Or the merge of another job"
        value={source}
        onChange={(event) => setSource(event.target.value)}
      >
        {merged.map((j) => (
          <MenuItem key={j.id} value={j.id}>
            {j.name}
          </MenuItem>
        ))}
      </TextField>
      <Button variant="outlined" disabled={source === '' || add.isPending} onClick={() => add.mutate()}>
        Take it as a frame
      </Button>
    </Box>
  );
}
