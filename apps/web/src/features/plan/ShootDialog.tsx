// Sends the simulated camera out with a plan.
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { ShootMenu } from '@blendrak/contract';
import { readableLength } from '@blendrak/core/plan';
import { api, wordsOf } from '../../shared/api';
import type { PlanKind } from './newPlan';
import { planApi } from './planApi';

interface ShootDialogProps {
  readonly planId: string;
  readonly kind: PlanKind;
  beforeShoot(): Promise<void>;
  onClose(): void;
}

export function ShootDialog({ planId, kind, beforeShoot, onClose }: ShootDialogProps) {
  const navigate = useNavigate();
  const menu = useQuery({ queryKey: ['camera'], queryFn: api.camera, staleTime: Infinity });
  const subjects = menu.data?.filter((entry) => entry.kind === kind) ?? [];
  const [chosen, setChosen] = useState<ShootMenu[number]['subject'] | null>(null);
  const [longSidePx, setLongSidePx] = useState(1600);
  const entry = subjects.find((s) => s.subject === chosen) ?? subjects[0];
  const shoot = useMutation({
    mutationFn: async () => {
      await beforeShoot();
      const seed = Math.floor(Date.now() / 1000) % 100_000;
      return planApi.shoot(planId, { subject: entry!.subject, longSidePx, seed });
    },
    onSuccess: (job) => void navigate(`/jobs/${job.id}/frames`),
  });
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>Shoot with the simulated camera</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5, pt: '8px !important' }}>
        {entry && (
          <TextField
            select
            size="small"
            label="Subject"
            value={entry.subject}
            helperText={placeOf(entry)}
            onChange={(event) => setChosen(event.target.value as ShootMenu[number]['subject'])}
          >
            {subjects.map((s) => (
              <MenuItem key={s.subject} value={s.subject}>
                {s.title}
              </MenuItem>
            ))}
          </TextField>
        )}
        <TextField
          size="small"
          type="number"
          label="Longer side, px"
          value={longSidePx}
          helperText="320 to 12000; 1600 is quick, 4000 makes 12 MP"
          onChange={(event) => setLongSidePx(Number(event.target.value))}
        />
        <Typography variant="body2" color="text.secondary">
          Frames, distances or angles, aperture, lens and waiting times come from the plan; the job keeps the plan and
          compares it with the files.
        </Typography>
        {(shoot.isError || menu.isError) && (
          <Typography role="alert" color="error">
            {wordsOf(shoot.error ?? menu.error)}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={!entry || shoot.isPending} onClick={() => shoot.mutate()}>
          Release
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function placeOf({ subjectMm: { near, far } }: ShootMenu[number]): string {
  return `from ${readableLength(near, 4)} to ${far === null ? 'infinity' : readableLength(far, 4)} in front of the lens`;
}
