// What stands against signing, each line leading to its place, or waived by name and reason.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type FormEvent } from 'react';
import { Link } from 'react-router';
import type { Obstacle, ObstacleKind, WaiveOrder } from '@blendrak/contract';
import { GREY } from '../../app/theme';

const PLACES: Record<ObstacleKind, readonly [screen: string, words: string]> = {
  open: ['bench', 'To the bench'],
  accepted: ['bench', 'To the bench'],
  reshoot: ['bench', 'To the bench'],
  unseen: ['bench', 'Look through it'],
  stale: ['merge', 'To the merge'],
};

interface StandingProps {
  readonly jobId: string;
  readonly obstacles: readonly Obstacle[];
  readonly isLocked: boolean;
  /** Name that is filled in already. */
  readonly by: string;
  onWaive(order: WaiveOrder): void;
}

export function Standing({ jobId, obstacles, isLocked, by, onWaive }: StandingProps) {
  const [waiving, setWaiving] = useState<Obstacle | null>(null);
  if (obstacles.length === 0) return <Typography variant="body2">Nothing stands against signing it.</Typography>;
  return (
    <Box
      component="ul"
      aria-label="What stands against signing"
      sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 1 }}
    >
      {obstacles.map((obstacle) => {
        const { kind, words, waiver } = obstacle;
        const [screen, place] = PLACES[kind];
        return (
          <Box component="li" key={kind} sx={{ borderLeft: `3px solid ${waiver ? GREY.rule : GREY.text}`, pl: 1 }}>
            <Typography variant="body2" sx={{ color: waiver ? GREY.quiet : GREY.text }}>
              {words}
            </Typography>
            {waiver ? (
              <Typography variant="body2" color="text.secondary">
                Waived by {waiver.by}: {waiver.reason}
              </Typography>
            ) : (
              !isLocked && (
                <Box sx={{ display: 'flex', gap: 0.5 }}>
                  <Button component={Link} to={`/jobs/${jobId}/${screen}`} color="inherit">
                    {place}
                  </Button>
                  <Button color="inherit" onClick={() => setWaiving(obstacle)}>
                    Waive …
                  </Button>
                </Box>
              )
            )}
          </Box>
        );
      })}
      {waiving && (
        <WaiveDialog
          obstacle={waiving}
          by={by}
          onClose={() => setWaiving(null)}
          onWaive={(order) => {
            onWaive(order);
            setWaiving(null);
          }}
        />
      )}
    </Box>
  );
}

interface WaiveDialogProps {
  readonly obstacle: Obstacle;
  readonly by: string;
  onWaive(order: WaiveOrder): void;
  onClose(): void;
}

function WaiveDialog({ obstacle: { kind, covers, words }, by: before, onWaive, onClose }: WaiveDialogProps) {
  const [by, setBy] = useState(before);
  const [reason, setReason] = useState('');
  const isReady = by.trim() !== '' && reason.trim() !== '';
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (isReady) onWaive({ kind, covers, by: by.trim(), reason: reason.trim() });
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form onSubmit={submit}>
        <DialogTitle>{words}</DialogTitle>
        <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
          <TextField
            size="small"
            label="Your name"
            value={by}
            onChange={(e) => setBy(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 80 } }}
            sx={{ mt: 0.5 }}
          />
          <TextField
            autoFocus
            size="small"
            label="Why it may stay"
            value={reason}
            multiline
            maxRows={4}
            onChange={(e) => setReason(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 400 } }}
          />
          <Typography variant="body2" color="text.secondary">
            It goes into the record and the report. If what stands there changes, it is asked anew.
          </Typography>
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={onClose}>
            Cancel
          </Button>
          <Button variant="contained" type="submit" disabled={!isReady}>
            Waive it
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
