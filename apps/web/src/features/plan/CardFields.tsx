// What the card carries besides the plan: cautions that fit the place, and notes.
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import type { PlanSheetRecord } from '@blendrak/contract';
import { CAUTIONS, LOCAL_RULES, type CautionId } from '@blendrak/core/plan';

type Carried = Pick<PlanSheetRecord, 'notes' | 'cautions'>;

export function CardFields({ notes, cautions, onChange }: Carried & { onChange(part: Partial<Carried>): void }) {
  const toggle = (id: CautionId, on: boolean): void => {
    const all = Object.keys(CAUTIONS) as CautionId[];
    onChange({ cautions: all.filter((c) => (c === id ? on : cautions.includes(c))) });
  };
  return (
    <Box component="fieldset" sx={{ border: 0, p: 0, m: 0 }}>
      <Typography component="legend" variant="h3" sx={{ mb: 0.5 }}>
        Cautions for this place
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr' }}>
        {(Object.entries(CAUTIONS) as [CautionId, (typeof CAUTIONS)[CautionId]][]).map(([id, [title, words]]) => (
          <FormControlLabel
            key={id}
            title={words}
            label={title}
            control={
              <Checkbox size="small" checked={cautions.includes(id)} onChange={(e) => toggle(id, e.target.checked)} />
            }
          />
        ))}
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mb: 1.5 }}>
        {LOCAL_RULES}
      </Typography>
      <TextField
        size="small"
        fullWidth
        multiline
        minRows={2}
        label="Notes for the card"
        value={notes}
        onChange={(event) => onChange({ notes: event.target.value.slice(0, 2000) })}
      />
    </Box>
  );
}
