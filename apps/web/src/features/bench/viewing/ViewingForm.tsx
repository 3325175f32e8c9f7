// How the picture will be looked at: by that it is judged what shows.
import Box from '@mui/material/Box';
import FormControlLabel from '@mui/material/FormControlLabel';
import Switch from '@mui/material/Switch';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { ViewingSettings } from '@blendrak/contract';
import { GREY } from '../../../app/theme';
import { api, wordsOf } from '../../../shared/api';
import { KEYS, type BenchMerge } from '../../../shared/queries';
import { useBench } from '../store';
import { PrintFields } from '../../../shared/viewing/PrintFields';
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
