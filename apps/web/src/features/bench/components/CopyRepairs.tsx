// Repairs of another job of the same set-up, done here, too.
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import List from '@mui/material/List';
import ListItemButton from '@mui/material/ListItemButton';
import ListItemText from '@mui/material/ListItemText';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { api, wordsOf } from '../../../shared/api';
import { KEYS, useJobs, type BenchMerge } from '../../../shared/queries';

interface CopyRepairsProps {
  readonly merge: BenchMerge;
  onClose(): void;
}

export function CopyRepairs({ merge, onClose }: CopyRepairsProps) {
  const jobs = useJobs();
  const client = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  const copy = useMutation({
    mutationFn: (from: string) => api.copyRepairs(merge.id, from),
    onSuccess: async ({ taken, left }) => {
      await client.invalidateQueries({ queryKey: KEYS.operations(merge.id) });
      enqueueSnackbar(copiedWords(taken, left), { variant: 'info' });
      onClose();
    },
    onError: (error) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
  });
  const others = (jobs.data ?? []).filter(
    ({ id, kind, mergeId }) => id !== merge.jobId && kind === merge.facts.kind && mergeId !== null,
  );
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>Whose repairs are to be done here, too?</DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="text.secondary">
          Of a set shot alike: the same kind, size and number of frames. What was matched to the tone of that picture is
          left.
        </Typography>
        <List dense aria-label="Jobs of the same kind">
          {others.map(({ id, name, mergeId }) => (
            <ListItemButton key={id} disabled={copy.isPending} onClick={() => copy.mutate(mergeId!)}>
              <ListItemText primary={name} />
            </ListItemButton>
          ))}
        </List>
        {jobs.isSuccess && others.length === 0 && <Typography>There is no other job of this kind.</Typography>}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Cancel
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** What was taken over, in a sentence. */
export function copiedWords(taken: number, left: number): string {
  const repairs = (n: number): string => `${n} ${n === 1 ? 'repair' : 'repairs'}`;
  if (taken + left === 0) return 'Nothing was repaired there.';
  return `${repairs(taken)} taken over${left > 0 ? `; ${left} left, matched to the tone of that picture` : ''}.`;
}
