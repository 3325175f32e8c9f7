// Size of a print and the distance from which it is looked at.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type FormEvent } from 'react';
import { viewingSchema, type ViewingSettings } from '@blendrak/contract';

type Print = Extract<ViewingSettings, { kind: 'print' }>;

export function PrintFields({ settings, onChange }: { settings: Print; onChange: (settings: Print) => void }) {
  const [side, setSide] = useState(String(settings.longSideMm / 10));
  const [distance, setDistance] = useState(settings.distanceMm === null ? '' : String(settings.distanceMm / 1000));
  const [refusal, setRefusal] = useState<string | null>(null);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    const wanted = {
      ...settings,
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
        label="Long side, cm"
        value={side}
        onChange={(e) => setSide(e.target.value)}
        sx={{ width: 98 }}
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
