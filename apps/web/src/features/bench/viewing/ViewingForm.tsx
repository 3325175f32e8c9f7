// How the picture will be looked at: by that it is judged what shows.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Switch from '@mui/material/Switch';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { viewingSchema, type ViewingSettings } from '@blendrak/contract';
import { GREY } from '../../../app/theme';
import { api, wordsOf } from '../../../shared/api';
import { KEYS, type BenchMerge } from '../../../shared/queries';
import { useBench } from '../store';
import { viewingWords } from '../../../shared/viewing/judge';

interface ViewingFormProps {
  readonly merge: BenchMerge;
  readonly settings: ViewingSettings;
  /** Open findings that are not seen so. */
  readonly unseen: number;
}

export function ViewingForm({ merge, settings, unseen }: ViewingFormProps) {
  const client = useQueryClient();
  const alsoUnseen = useBench((s) => s.alsoUnseen);
  const look = useMutation({
    mutationFn: (viewing: ViewingSettings) => api.changeJob(merge.jobId, { viewing }),
    onSuccess: (job) => client.setQueryData(KEYS.job(merge.jobId), job),
  });
  return (
    <Box sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1, display: 'flex', flexDirection: 'column', gap: 0.75 }}>
      <Typography variant="h3">Judged {viewingWords(settings, merge)}</Typography>
      <ToggleButtonGroup
        size="small"
        exclusive
        aria-label="Looked at"
        value={settings.kind}
        onChange={(_event, kind: ViewingSettings['kind'] | null) => {
          if (kind === 'screen') look.mutate({ kind });
          if (kind === 'print') look.mutate({ kind, longSideMm: 600, distanceMm: null });
        }}
        sx={{ '& .MuiToggleButton-root': { py: 0.1, px: 1 } }}
      >
        <ToggleButton value="screen">On a screen</ToggleButton>
        <ToggleButton value="print">Printed</ToggleButton>
      </ToggleButtonGroup>
      {settings.kind === 'print' && (
        <PrintFields key={JSON.stringify(settings)} settings={settings} onChange={(viewing) => look.mutate(viewing)} />
      )}
      {look.isError && (
        <Typography role="alert" variant="body2" color="error">
          {wordsOf(look.error)}
        </Typography>
      )}
      {unseen > 0 && (
        <FormControlLabel
          control={
            <Switch
              size="small"
              checked={alsoUnseen}
              onChange={(_event, checked) => useBench.getState().set({ alsoUnseen: checked })}
            />
          }
          label={`${unseen} that ${unseen === 1 ? 'is' : 'are'} not seen so`}
          sx={{ '& .MuiFormControlLabel-label': { fontSize: 12.5 } }}
        />
      )}
    </Box>
  );
}

type Print = Extract<ViewingSettings, { kind: 'print' }>;

function PrintFields({ settings, onChange }: { settings: Print; onChange: (settings: Print) => void }) {
  const [side, setSide] = useState(String(settings.longSideMm / 10));
  const [distance, setDistance] = useState(settings.distanceMm === null ? '' : String(settings.distanceMm / 1000));
  const [refusal, setRefusal] = useState<string | null>(null);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    const wanted = {
      kind: 'print',
      longSideMm: 10 * Number(side),
      distanceMm: distance.trim() === '' ? null : 1000 * Number(distance),
    };
    const read = viewingSchema.safeParse(wanted);
    if (read.success && read.data.kind === 'print') onChange(read.data);
    else
      setRefusal(
        'A longer side of 2 to 2,000 cm and a distance of 0.1 to 100 m are accepted; no distance means the diagonal.',
      );
  };
  return (
    <Box component="form" onSubmit={submit} sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, pt: 0.5 }}>
      <TextField
        size="small"
        label="Longer side, cm"
        value={side}
        onChange={(e) => setSide(e.target.value)}
        sx={{ width: 92 }}
      />
      <TextField
        size="small"
        label="From, m"
        placeholder="diagonal"
        value={distance}
        onChange={(e) => setDistance(e.target.value)}
        sx={{ width: 92 }}
      />
      <Button type="submit" variant="outlined">
        Judge
      </Button>
      {refusal && (
        <Typography role="alert" variant="body2" color="error">
          {refusal}
        </Typography>
      )}
    </Box>
  );
}
