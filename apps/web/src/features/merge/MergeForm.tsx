// How a set is merged: what there is to choose for its kind, and the button.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Job, Merge, MergeSettings } from '@blendrak/contract';
import { api, wordsOf } from '../../shared/api';
import { KEYS } from '../../shared/queries';
import { Choice } from '../../shared/Choice';
import { changeGradient, CHOICES, gradientsFor } from './mergeSettings';

interface MergeFormProps {
  readonly job: Job;
  readonly merge: Merge | null;
  readonly busy: boolean;
  readonly settings: MergeSettings;
  onChange(change: Partial<MergeSettings>): void;
}

export function MergeForm({ job, merge, busy, settings, onChange: set }: MergeFormProps) {
  const { kind, id } = job.summary;
  const unpainted = kind === 'bracket' && settings.method === 'painted' && settings.parts.length === 0;
  const frames = job.pictures.filter((p) => p.role === 'frame' && p.status === 'ready');
  const { enqueueSnackbar } = useSnackbar();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [mend, setMend] = useState(false);
  const start = useMutation({
    mutationFn: () =>
      api.process(id, { own: true, mend, options: settings, ...(merge && { alignment: merge.alignment }) }),
    onSuccess: (next) => queries.setQueryData(KEYS.job(id), next),
    onError: (error) => enqueueSnackbar(wordsOf(error), { variant: 'error' }),
  });
  return (
    <Box component="form" sx={{ display: 'grid', gap: 1.5 }} onSubmit={(event) => event.preventDefault()}>
      {kind === 'focus-stack' && (
        <>
          <Choice
            label="Method"
            value={settings.stackMethod}
            choices={CHOICES.stackMethod}
            onChange={(stackMethod) =>
              set({ stackMethod, gradients: stackMethod === 'gradient' ? gradientsFor(frames.length) : [] })
            }
          />
          <Typography variant="body2" color="text.secondary">
            {STACK_WORDS[settings.stackMethod]}
          </Typography>
        </>
      )}
      {kind === 'panorama' && (
        <>
          <Choice
            label="Projection"
            value={settings.projection}
            choices={CHOICES.projection}
            onChange={(projection) => set({ projection })}
          />
          <Tick label="Cut to the largest clean rectangle" checked={settings.crop} onChange={(crop) => set({ crop })} />
          <Tick
            label="Even out light, white balance and vignetting"
            checked={settings.evenLight}
            onChange={(evenLight) => set({ evenLight })}
          />
        </>
      )}
      {kind === 'bracket' && (
        <>
          <Choice
            label="Method"
            value={settings.method}
            choices={CHOICES.method}
            onChange={(method) => set({ method, gradients: method === 'gradient' ? gradientsFor(frames.length) : [] })}
          />
          {(settings.method === 'fusion' || settings.method === 'light') && (
            <Tick
              label="Each moving thing from one frame"
              checked={settings.ghostSafe}
              onChange={(ghostSafe) => set({ ghostSafe })}
            />
          )}
        </>
      )}
      <GradientFields
        gradients={settings.gradients}
        names={frames.map((f) => f.fileName)}
        onChange={(gradients) => set({ gradients })}
      />
      <Tick label="Then repair what can be repaired by itself" checked={mend} onChange={setMend} />
      <Button
        variant="contained"
        disabled={busy || start.isPending || frames.length < 2 || unpainted}
        onClick={() => start.mutate()}
      >
        {!merge ? 'Align and merge' : merge.origin === 'own' ? 'Merge again' : 'Make a merge of our own'}
      </Button>
      <Typography variant="body2" color="text.secondary">
        {frames.length < 2
          ? 'At least 2 frames are needed.'
          : unpainted
            ? merge
              ? 'Paint what is to come from another frame.'
              : 'Merge once in another way; then paint on the picture.'
            : merge?.origin === 'own'
              ? 'The frames stay aligned as they are: only the merge is made anew. Strokes belong to the merge they were painted on.'
              : `${frames.length} frames will be aligned, then merged.`}
      </Typography>
      {merge && (
        <Button variant="outlined" onClick={() => void navigate(`/jobs/${id}/bench`)}>
          Look at it on the bench
        </Button>
      )}
    </Box>
  );
}

const GRADIENT_FIELDS = [
  ['y', 'Height, %', 100],
  ['angleDeg', 'Angle, °', 1],
  ['width', 'Width, %', 100],
] as const;

function GradientFields({
  gradients,
  names,
  onChange,
}: {
  readonly gradients: MergeSettings['gradients'];
  readonly names: readonly string[];
  onChange(gradients: MergeSettings['gradients']): void;
}) {
  return gradients.map((g, n) => (
    <Box key={n} component="fieldset" sx={{ border: 'none', p: 0, m: 0, display: 'grid', gap: 1 }}>
      <Typography component="legend" variant="body2">
        From {names[n]} to {names[n + 1]}
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(3, 1fr)', gap: 1 }}>
        {GRADIENT_FIELDS.map(([key, label, unit]) => (
          <TextField
            key={key}
            size="small"
            type="number"
            label={label}
            value={Number((g[key] * unit).toFixed(1))}
            onChange={(event) => onChange(changeGradient(gradients, n, key, Number(event.target.value) / unit))}
          />
        ))}
      </Box>
    </Box>
  ));
}

const STACK_WORDS: Readonly<Record<MergeSettings['stackMethod'], string>> = {
  labels:
    'Each place comes from the frame that shows it sharpest; beside near edges, from the one that errs least by spread light. Labels follow their surroundings where nothing is sharp.',
  reference: 'The reference frame everywhere it is nearly as sharp as the best; other frames only where it is soft.',
  bands:
    'At each scale the frame with the most detail there counts most. No borders, but light of soft frames may spread along near edges.',
  gradient: 'For two or three frames of a wide scene: from one to the next across a straight line.',
};

function Tick({
  label,
  checked,
  onChange,
}: {
  readonly label: string;
  readonly checked: boolean;
  onChange(checked: boolean): void;
}) {
  return (
    <FormControlLabel
      control={<Checkbox size="small" checked={checked} onChange={(event) => onChange(event.target.checked)} />}
      label={label}
    />
  );
}
