// A camera's own scale of focus steps: typed row by row, or measured from a job's sequence.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Close from '@mui/icons-material/Close';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { Kit, MeasuredStep, StepScaleRow } from '@blendrak/contract';
import { circleOfConfusionMm, parseLength } from '@blendrak/core/plan';
import { wordsOf } from '../../shared/api';
import { useJobs } from '../../shared/queries';
import { planApi } from './planApi';

interface StepScaleEditorProps {
  readonly camera: Kit['bodies'][number];
  readonly rows: readonly StepScaleRow[];
  onChange(rows: StepScaleRow[]): void;
}

export function StepScaleEditor({ camera, rows, onChange }: StepScaleEditorProps) {
  const [open, setOpen] = useState(false);
  const [setting, setSetting] = useState('');
  const [fraction, setFraction] = useState('');
  const typed = Number(fraction.replace(',', '.')) / 100;
  const add = (row: StepScaleRow): void => {
    onChange([...rows.filter((r) => r.setting !== row.setting), row].sort((a, b) => a.fraction - b.fraction));
    setSetting('');
    setFraction('');
  };
  const named = setting.trim() !== '';
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
        <Typography variant="body2" color="text.secondary">
          Focus steps:
        </Typography>
        {rows.length === 0 && <Typography variant="body2">none known</Typography>}
        {rows.map((row) => (
          <Box key={row.setting} sx={{ display: 'flex', alignItems: 'center' }}>
            <Typography variant="body2">
              setting {row.setting}: {(row.fraction * 100).toFixed(0)}
              {row.error === null ? '' : ` ± ${(row.error * 100).toFixed(0)}`} % of a slice
            </Typography>
            <IconButton
              size="small"
              aria-label={`Remove setting ${row.setting}`}
              onClick={() => onChange(rows.filter((r) => r !== row))}
            >
              <Close sx={{ fontSize: 16 }} />
            </IconButton>
          </Box>
        ))}
        {!open && <Button onClick={() => setOpen(true)}>Add or measure a step</Button>}
      </Box>
      {open && (
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'flex-start' }}>
          <TextField
            size="small"
            label="Setting"
            value={setting}
            sx={{ width: 110 }}
            onChange={(e) => setSetting(e.target.value.slice(0, 40))}
          />
          <TextField
            size="small"
            label="Step, % of a slice"
            value={fraction}
            sx={{ width: 150 }}
            onChange={(e) => setFraction(e.target.value)}
          />
          <Button
            variant="outlined"
            sx={{ mt: 0.5 }}
            disabled={!named || !(typed > 0 && typed <= 100)}
            onClick={() => add({ setting: setting.trim(), fraction: typed, error: null })}
          >
            Add
          </Button>
          <Typography variant="body2" color="text.secondary" sx={{ mt: 1.25, px: 1 }}>
            or
          </Typography>
          <MeasureStep
            camera={camera}
            disabled={!named}
            onMeasured={(m) => add({ setting: setting.trim(), fraction: m.fraction, error: m.fractionError })}
          />
        </Box>
      )}
    </Box>
  );
}

/** Measures the step of a job that was shot with the setting named. */
function MeasureStep({
  camera,
  disabled,
  onMeasured,
}: {
  readonly camera: Kit['bodies'][number];
  readonly disabled: boolean;
  onMeasured(step: MeasuredStep): void;
}) {
  const jobs = useJobs();
  const stacks = jobs.data?.filter((j) => j.kind === 'focus-stack' && j.frames > 1) ?? [];
  const [jobId, setJobId] = useState('');
  const [first, setFirst] = useState('');
  const firstMm = parseLength(first, 'cm')?.mm ?? null;
  const measure = useMutation({
    mutationFn: () => planApi.measureStep(jobId, circleOfConfusionMm(camera, { by: 'pixels', pixels: 2 }), firstMm),
    onSuccess: onMeasured,
  });
  return (
    <Box>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'flex-start' }}>
        <TextField
          select
          size="small"
          label="Measure from job"
          value={jobId}
          sx={{ width: 240 }}
          onChange={(e) => setJobId(e.target.value)}
        >
          {stacks.length === 0 && <MenuItem disabled>no focus stack yet</MenuItem>}
          {stacks.map((j) => (
            <MenuItem key={j.id} value={j.id}>
              {j.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          size="small"
          label="First focus, if unknown"
          value={first}
          sx={{ width: 170 }}
          onChange={(e) => setFirst(e.target.value)}
        />
        <Button
          variant="outlined"
          sx={{ mt: 0.5 }}
          disabled={disabled || jobId === '' || measure.isPending}
          onClick={() => measure.mutate()}
        >
          Measure
        </Button>
      </Box>
      <Typography variant="body2" role="status" color={measure.isError ? 'error' : 'text.secondary'}>
        {measure.isError && wordsOf(measure.error)}
        {measure.data && measuredWords(measure.data)}
        {!measure.isError && !measure.data && disabled && 'Name the setting first.'}
      </Typography>
    </Box>
  );
}

function measuredWords(m: MeasuredStep): string {
  const sure =
    m.fractionError === null ? 'how sure cannot be told from two frames' : `± ${(m.fractionError * 100).toFixed(1)} %`;
  return `${m.frames} frames, from ${m.source}: ${m.stepDioptres.toFixed(4)} dpt a step, ${(m.fraction * 100).toFixed(0)} % of a slice (${sure}), at 2 px of blur.`;
}
