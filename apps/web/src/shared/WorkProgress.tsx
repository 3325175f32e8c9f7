// Progress of long work, with cancel.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import type { Work } from '@blendrak/contract';
import { api } from './api';

const VERBS: Record<Work['kind'], string> = {
  intake: 'Reading files',
  process: 'Working',
  shoot: 'Simulated camera',
  sort: 'Sorting',
};

export function WorkProgress({ work }: { work: Work }) {
  const ended = work.status === 'failed' || work.status === 'cancelled';
  return (
    <Box role="status" sx={{ display: 'flex', alignItems: 'center', gap: 1.5 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Typography variant="body2" sx={{ color: work.status === 'failed' ? 'error.main' : 'text.secondary' }}>
          {ended ? (work.error ?? 'Cancelled.') : `${VERBS[work.kind]}: ${work.message || 'waiting'}`}
        </Typography>
        {!ended && (
          <LinearProgress
            aria-label={VERBS[work.kind]}
            variant={work.progress > 0 ? 'determinate' : 'indeterminate'}
            value={work.progress * 100}
            sx={{ mt: 0.5 }}
          />
        )}
      </Box>
      {!ended && (
        <Button color="inherit" onClick={() => void api.cancelWork(work.id)}>
          Cancel
        </Button>
      )}
    </Box>
  );
}
