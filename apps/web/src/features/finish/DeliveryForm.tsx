// What is delivered of a signed merge, and the ZIP once it is there.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { deliveryOrderSchema, INTO_FOLDER, type DeliveryOrder, type DeliveryPart, type Work } from '@blendrak/contract';
import { Choice } from '../../shared/Choice';
import { WorkProgress } from '../../shared/WorkProgress';

const PARTS: readonly (readonly [DeliveryPart, string])[] = [
  ['tiff', 'Picture, TIFF 16 bit'],
  ['print', 'Sharpened for output, TIFF'],
  ['jpeg', 'Picture for screens, JPEG'],
  ['layers', 'Layers, OpenRaster'],
  ['masks', 'Masks, PNG'],
  ['report', 'Report, JSON'],
  ['pdf', 'Report, PDF'],
];

const INTO: readonly (readonly [DeliveryOrder['into'], string])[] = [
  ['zip', 'one ZIP'],
  ['folder', 'a folder'],
];
const TICK = { m: 0, '& .MuiFormControlLabel-label': { fontSize: 12.5 }, '& .MuiCheckbox-root': { p: 0.4 } } as const;

interface DeliveryFormProps {
  readonly isSigned: boolean;
  /** The last delivery that was asked for; null for none. */
  readonly work: Work | null;
  readonly problem: string | null;
  onDeliver(order: DeliveryOrder): void;
}

export function DeliveryForm({ isSigned, work, problem, onDeliver }: DeliveryFormProps) {
  const [parts, setParts] = useState<readonly DeliveryPart[]>(['tiff', 'jpeg', 'report', 'pdf']);
  const [pattern, setPattern] = useState('{job} {date}');
  const [longSide, setLongSide] = useState('2400');
  const [sharpen, setSharpen] = useState(false);
  const [into, setInto] = useState<DeliveryOrder['into']>('zip');
  const order = deliveryOrderSchema.safeParse({
    parts: [...parts],
    pattern,
    longSidePx: longSide.trim() === '' ? null : Number(longSide),
    sharpen,
    into,
  });
  const isBusy = work !== null && ['queued', 'running', 'paused'].includes(work.status);
  const toggle = (part: DeliveryPart): void =>
    setParts((now) => (now.includes(part) ? now.filter((p) => p !== part) : [...now, part]));
  return (
    <Box sx={{ display: 'grid', gap: 0.75 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr' }}>
        {PARTS.map(([part, words]) => (
          <FormControlLabel
            key={part}
            control={<Checkbox size="small" checked={parts.includes(part)} onChange={() => toggle(part)} />}
            label={words}
            sx={TICK}
          />
        ))}
      </Box>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <TextField
          size="small"
          label="Names"
          value={pattern}
          onChange={(e) => setPattern(e.target.value)}
          sx={{ flex: 1 }}
        />
        <TextField
          size="small"
          label="JPEG, longer side, px"
          placeholder="full size"
          value={longSide}
          onChange={(e) => setLongSide(e.target.value)}
          sx={{ width: 150 }}
        />
      </Box>
      <Box sx={{ display: 'flex', gap: 1, mt: 0.75, alignItems: 'center', justifyContent: 'space-between' }}>
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={sharpen}
              disabled={!parts.includes('jpeg')}
              onChange={() => setSharpen(!sharpen)}
            />
          }
          label="Sharpen the JPEG for screens"
          sx={TICK}
        />
        <Box sx={{ width: 150 }}>
          <Choice<DeliveryOrder['into']> label="As" value={into} choices={INTO} onChange={setInto} />
        </Box>
      </Box>
      {problem && (
        <Typography role="alert" variant="body2" color="error">
          {problem}
        </Typography>
      )}
      {work && work.status !== 'done' && <WorkProgress work={work} />}
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <Button
          variant="contained"
          disabled={!isSigned || isBusy || !order.success}
          onClick={() => order.success && onDeliver(order.data)}
        >
          Make the delivery
        </Button>
        {work?.status === 'done' && work.message.startsWith(INTO_FOLDER) && (
          <Typography variant="body2" role="status">
            {work.message}
          </Typography>
        )}
        {work?.status === 'done' && !work.message.startsWith(INTO_FOLDER) && (
          <Button variant="outlined" component="a" href={`/api/deliveries/${work.id}`} download>
            Take the ZIP
          </Button>
        )}
        {!isSigned && (
          <Typography variant="body2" color="text.secondary">
            Once it is signed.
          </Typography>
        )}
      </Box>
      {!order.success && (
        <Typography variant="body2" color="text.secondary">
          At least one part, a name of 1 to 120 letters with {'{job} {merge} {kind} {date} {by}'} filled in, and a
          longer side of 200 to 60,000 px or none.
        </Typography>
      )}
    </Box>
  );
}
