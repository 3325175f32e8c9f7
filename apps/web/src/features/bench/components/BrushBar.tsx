// The row of brush controls that the trace strip grows while a frame is in hand.
import Box from '@mui/material/Box';
import Redo from '@mui/icons-material/RedoOutlined';
import Undo from '@mui/icons-material/UndoOutlined';
import IconButton from '@mui/material/IconButton';
import Button from '@mui/material/Button';
import Tooltip from '@mui/material/Tooltip';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import type { PaintedMerge } from '../../../shared/queries';
import { GREY, MONO } from '../../../app/theme';
import type { Saving } from '../hooks/useStrokeSender';
import { useBench, type Brush } from '../store';

interface BrushBarProps {
  readonly merge: PaintedMerge;
  readonly saving: Saving;
  readonly onUndo: () => void;
  readonly onRedo: () => void;
}

export function BrushBar({ merge, saving, onUndo, onRedo }: BrushBarProps) {
  const donor = useBench((s) => s.donor);
  const brush = useBench((s) => s.brush);
  const set = useBench((s) => s.set);
  const unsent = saving.state === 'saved' ? 0 : saving.count;
  const canRedo =
    useBench((s) => s.takenBack.some((p) => p.mergeId === merge.id)) || merge.strokes.some((s) => s.undone);
  const done = merge.strokes.filter((s) => !s.undone).length;
  const change = (part: Partial<Brush>): void => set({ brush: { ...brush, ...part } });
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        px: 1.5,
        height: 42,
        borderBottom: `1px solid ${GREY.rule}`,
      }}
    >
      {donor === null ? (
        <Typography variant="body2" color="text.secondary" noWrap>
          Pick a frame below to paint with it
        </Typography>
      ) : (
        <>
          <Typography
            variant="body2"
            noWrap
            sx={{ flex: '0 1 auto', minWidth: 40 }}
            title={merge.frames[donor]?.fileName}
          >
            with <b>{donor + 1}</b>
          </Typography>
          <Control
            label="Size"
            value={brush.sizePx}
            min={4}
            max={600}
            step={2}
            unit="px"
            onChange={(sizePx) => change({ sizePx })}
          />
          <Control
            label="Hardness"
            value={brush.hardness}
            min={0}
            max={1}
            step={0.05}
            onChange={(hardness) => change({ hardness })}
          />
          <Control
            label="Strength"
            value={brush.strength}
            min={0.05}
            max={1}
            step={0.05}
            onChange={(strength) => change({ strength })}
          />
          <Button color="inherit" sx={{ minWidth: 0, px: 0.75 }} onClick={() => set({ donor: null })}>
            Done
          </Button>
        </>
      )}
      <Box sx={{ ml: 'auto', display: 'flex', gap: 0.5, alignItems: 'center' }}>
        <Typography
          role="status"
          variant="body2"
          color={saving.state === 'retrying' ? 'warning.main' : 'text.secondary'}
          noWrap
        >
          {saving.state === 'saved'
            ? `${done} ${done === 1 ? 'stroke' : 'strokes'}, saved`
            : saving.state === 'saving'
              ? 'saving …'
              : `server away: ${saving.count} kept, trying again`}
        </Typography>
        <Tooltip title="Undo stroke (U)">
          <span>
            <IconButton size="small" aria-label="Undo" disabled={done + unsent === 0} onClick={onUndo}>
              <Undo fontSize="small" />
            </IconButton>
          </span>
        </Tooltip>
        <Tooltip title="Redo stroke (Shift U)">
          <span>
            <IconButton size="small" aria-label="Redo" disabled={!canRedo} onClick={onRedo}>
              <Redo fontSize="small" />
            </IconButton>
          </span>
        </Tooltip>
      </Box>
    </Box>
  );
}

interface ControlProps {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly unit?: string;
  readonly onChange: (value: number) => void;
}

function Control({ label, value, min, max, step, unit, onChange }: ControlProps) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75 }}>
      <Typography sx={{ fontSize: 12 }}>{label}</Typography>
      <Slider
        size="small"
        color="secondary"
        aria-label={label}
        value={value}
        min={min}
        max={max}
        step={step}
        onChange={(_event, v) => onChange(v)}
        sx={{ width: 50 }}
      />
      <Typography sx={{ fontFamily: MONO, fontSize: 11.5, width: 42 }}>
        {unit ? `${value} ${unit}` : `${Math.round(value * 100)} %`}
      </Typography>
    </Box>
  );
}
