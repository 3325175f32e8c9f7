// Progress of long work, with cancel.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import type { Work } from '@blendrak/contract';
import { useSnackbar } from 'notistack';
import { api, wordsOf } from './api';
import { FirstLookPlan } from './FirstLookPlan';

const VERBS: Record<Work['kind'], string> = {
  intake: 'Reading files',
  process: 'Working',
  shoot: 'Simulated camera',
  sort: 'Sorting',
  export: 'Rendering',
  mend: 'Working out repairs',
  deliver: 'Delivery',
  source: 'Merging to paint with',
};

const COLOURS: Partial<Record<Work['status'], string>> = { failed: 'error.main', paused: 'warning.main' };

function wordsFor({ status, kind, message, error }: Work): string {
  if (status === 'failed' || status === 'cancelled') return error ?? 'Cancelled.';
  if (status === 'paused') return `${VERBS[kind]} paused. ${error ?? ''}`;
  return `${VERBS[kind]}: ${message || 'waiting'}`;
}

/** @param brief what a first look shows is left out */
export function WorkProgress({ work, brief = false }: { work: Work; brief?: boolean }) {
  const { enqueueSnackbar } = useSnackbar();
  const cancel = (): void => {
    api.cancelWork(work.id).catch((error: unknown) => enqueueSnackbar(wordsOf(error), { variant: 'error' }));
  };
  const paused = work.status === 'paused';
  const ended = work.status === 'failed' || work.status === 'cancelled';
  return (
    <Box role="status">
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography variant="body2" sx={{ color: COLOURS[work.status] ?? 'text.secondary' }}>
            {wordsFor(work)}
          </Typography>
          {!ended && !paused && (
            <LinearProgress
              aria-label={VERBS[work.kind]}
              variant={work.progress > 0 ? 'determinate' : 'indeterminate'}
              value={work.progress * 100}
              sx={{ mt: 0.5 }}
            />
          )}
        </Box>
        {!ended && (
          <Button color="inherit" onClick={cancel}>
            Cancel
          </Button>
        )}
      </Box>
      {!ended && !brief && work.first && <FirstLookPlan first={work.first} />}
    </Box>
  );
}
