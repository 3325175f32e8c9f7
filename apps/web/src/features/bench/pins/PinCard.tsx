// An open pin: what was read along its segment, as words, figures and a chart.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { CartesianGrid, Line, LineChart, Tooltip, XAxis, YAxis } from 'recharts';
import type { Pin, Reading } from '@blendrak/contract';
import { GREY } from '../../../app/theme';
import { Measures } from '../components/Measures';
import type { BenchMerge } from '../../../shared/queries';
import { useBench } from '../store';
import { figuresOf, PIN_NAMES, verdictOn } from './readingWords';

interface PinCardProps {
  readonly merge: BenchMerge;
  readonly pin: Pin;
  readonly isOld: boolean;
  onRemove(pin: Pin): void;
}

export function PinCard({ merge, pin, isOld, onRemove }: PinCardProps) {
  const names = merge.frames.map((f) => f.fileName);
  const { reading } = pin;
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.25 }}>
      <Typography variant="h2">
        {pin.number} · {PIN_NAMES[pin.kind]}
      </Typography>
      <Typography>{verdictOn(reading, names)}</Typography>
      {reading.kind !== 'patch' && <Tracks reading={reading} />}
      <Measures rows={figuresOf(reading, names)} />
      {isOld && (
        <Typography variant="body2" color="text.secondary">
          Measured before the last change of the picture.
        </Typography>
      )}
      <Box sx={{ display: 'flex', gap: 0.75 }}>
        <Button variant="outlined" onClick={() => useBench.getState().set({ openPin: null })}>
          Close
        </Button>
        <Button variant="outlined" onClick={() => onRemove(pin)}>
          Remove
        </Button>
      </Box>
    </Box>
  );
}

const CHART = { width: 192, height: 150 };
/** Frames are told apart by their strokes. */
const DASHES = ['5 3', '2 3', '8 3 2 3', '1 2', '10 4', '6 2 1 2', '3 6', '12 3'];

/** The merge's track as a strong line, frames' as thin ones. */
function Tracks({ reading }: { reading: Exclude<Reading, { kind: 'patch' }> }) {
  const { merge, frames, spacingPx } = reading;
  const shown = frames.slice(0, 4);
  const rows = useMemo(
    () =>
      merge.map((value, i) => ({
        at: i * spacingPx,
        merge: value,
        ...Object.fromEntries(shown.map((f) => [`f${f.frame}`, f.values[i]])),
      })),
    [merge, shown, spacingPx],
  );
  const isEdge = reading.kind === 'edge';
  const digits = isEdge ? 2 : 1;
  return (
    <Box>
      <LineChart {...CHART} data={rows} margin={{ top: 4, right: 4, bottom: 0, left: -18 }}>
        <CartesianGrid stroke={GREY.rule} vertical={false} />
        <XAxis dataKey="at" type="number" domain={[0, 'dataMax']} stroke={GREY.quiet} tick={{ fontSize: 10 }} />
        <YAxis
          stroke={GREY.quiet}
          domain={['auto', 'auto']}
          tick={{ fontSize: 10 }}
          width={50}
          tickFormatter={(v: number) => v.toFixed(digits)}
        />
        <Tooltip
          contentStyle={{ background: GREY.raised, border: 'none', fontSize: 11 }}
          formatter={(v) => Number(v).toFixed(digits + 1)}
          labelFormatter={(v) => `${String(v)} px`}
        />
        {shown.map((f, k) => (
          <Line
            key={f.frame}
            dataKey={`f${f.frame}`}
            name={`frame ${f.frame + 1}`}
            stroke={GREY.quiet}
            strokeDasharray={DASHES[k % DASHES.length]!}
            dot={false}
            isAnimationActive={false}
          />
        ))}
        <Line dataKey="merge" name="merge" stroke={GREY.text} strokeWidth={2} dot={false} isAnimationActive={false} />
      </LineChart>
      <Typography variant="body2" color="text.secondary" sx={{ fontSize: 11.5 }}>
        {isEdge ? 'Brightness along the segment' : 'Px aside of the segment, along it'}; strong: merge
        {shown.length > 0 && `, dashed: frame ${shown.map((f) => f.frame + 1).join(', ')}`}
      </Typography>
    </Box>
  );
}
