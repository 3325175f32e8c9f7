// Frames from a folder on the server's machine, read where they lie.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { api, wordsOf } from '../../shared/api';
import { KEYS } from '../../shared/queries';

export function FolderForm({ jobId }: { jobId: string }) {
  const client = useQueryClient();
  const [path, setPath] = useState('');
  const [merge, setMerge] = useState('');
  const add = useMutation({
    mutationFn: () => api.addFolder(jobId, path.trim(), merge.trim()),
    onSuccess: async () => {
      setPath('');
      setMerge('');
      await client.invalidateQueries({ queryKey: KEYS.job(jobId) });
    },
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (path.trim()) add.mutate();
  };
  return (
    <Box component="form" onSubmit={submit} sx={{ display: 'flex', flexDirection: 'column', gap: 1 }}>
      <Typography variant="h3">Or a folder on this machine</Typography>
      <TextField size="small" label="Folder path" value={path} onChange={(e) => setPath(e.target.value)} />
      <TextField
        size="small"
        label="Which file is the merge (optional)"
        value={merge}
        onChange={(e) => setMerge(e.target.value)}
      />
      {add.isError && (
        <Typography role="alert" variant="body2" color="error">
          {wordsOf(add.error)}
        </Typography>
      )}
      <Button type="submit" variant="outlined" disabled={!path.trim() || add.isPending}>
        Read the folder
      </Button>
    </Box>
  );
}
