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
import { Choice } from '../../../shared/Choice';
import { KEYS, type BenchMerge } from '../../../shared/queries';
import { useBench } from '../store';
import { PrintFields } from '../../../shared/viewing/PrintFields';
import { viewingWords, type HeldBack } from '../../../shared/viewing/judge';

interface ViewingFormProps {
  readonly merge: BenchMerge;
  readonly settings: ViewingSettings;
  readonly heldBack: HeldBack;
}

/** Limits on false alarms that can be chosen; another one, set elsewhere, stands among them. */
const LIMITS = [3, 1, 0.3, 0.1];

/** @returns values and words, the laxest first; no value for no limit */
function limitsWith(set: number | undefined): [string, string][] {
  const all = [...new Set(set === undefined ? LIMITS : [...LIMITS, set])].sort((a, b) => b - a);
  return [
    ['', 'All that were found'],
    ...all.map((n): [string, string] => [String(n), `${n < 1 ? '' : 'About '}${n} may be nothing`]),
  ];
}

export function ViewingForm({ merge, settings, heldBack }: ViewingFormProps) {
  const client = useQueryClient();
  const alsoHeldBack = useBench((s) => s.alsoHeldBack);
  const look = useMutation({
    mutationFn: (viewing: ViewingSettings) => api.changeJob(merge.jobId, { viewing }),
    onSuccess: (job) => client.setQueryData(KEYS.job(merge.jobId), job),
  });
  const { falseAlarms } = settings;
  const limit = falseAlarms === undefined ? {} : { falseAlarms };
  const left = heldBack.unseen + heldBack.unsure;
  const limitTo = (value: string): void => {
    const { falseAlarms: _before, ...way } = settings;
    look.mutate(value === '' ? way : { ...way, falseAlarms: Number(value) });
  };
  return (
    <Box sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1, display: 'flex', flexDirection: 'column', gap: 0.75 }}>
      <Typography variant="h3">Judged {viewingWords(settings, merge)}</Typography>
      <ToggleButtonGroup
        size="small"
        exclusive
        aria-label="Looked at"
        value={settings.kind}
        onChange={(_event, kind: ViewingSettings['kind'] | null) => {
          if (kind === 'screen') look.mutate({ ...limit, kind });
          if (kind === 'print') look.mutate({ ...limit, kind, longSideMm: 600, distanceMm: null });
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
      <Box sx={{ pt: 0.75, display: 'grid' }}>
        <Choice
          label="Shown, surest first"
          value={String(falseAlarms ?? '')}
          choices={limitsWith(falseAlarms)}
          onChange={limitTo}
        />
      </Box>
      {left > 0 && (
        <FormControlLabel
          control={
            <Switch
              size="small"
              checked={alsoHeldBack}
              onChange={(_event, checked) => useBench.getState().set({ alsoHeldBack: checked })}
            />
          }
          label={heldBackWords(heldBack)}
          sx={{ '& .MuiFormControlLabel-label': { fontSize: 12.5 } }}
        />
      )}
    </Box>
  );
}

function heldBackWords({ unseen, unsure }: HeldBack): string {
  const parts = [
    unseen > 0 ? `${unseen} that ${unseen === 1 ? 'is' : 'are'} not seen so` : '',
    unsure > 0 ? `${unsure} too unsure for that` : '',
  ];
  return parts.filter((words) => words !== '').join(', ');
}
