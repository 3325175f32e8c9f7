// How the mask of an operation is changed after it was drawn: each setting acts at once, and is taken back like any change.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Popover from '@mui/material/Popover';
import Slider from '@mui/material/Slider';
import Switch from '@mui/material/Switch';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import type { Operation, OperationMaskRecord } from '@blendrak/contract';
import { MOST_CHANGE_PX } from '@blendrak/core/repair';
import { MONO } from '../../../app/theme';
import type { BenchMerge } from '../../../shared/queries';
import { useBench } from '../store';

interface MaskPanelProps {
  readonly merge: Pick<BenchMerge, 'width' | 'height'>;
  readonly title: string;
  readonly operation: Operation;
  readonly anchor: HTMLElement;
  onMask(mask: OperationMaskRecord | null): void;
  /** Lays it to edges so near its rim. */
  onSnap(reachPx: number): void;
  onClose(): void;
}

/** A mask as it was made. */
const AS_MADE: OperationMaskRecord = { growPx: 0, softenPx: 0, strength: 1, insideOut: null, snapped: null };

const MOST_GROW_PX = 60;
const MOST_REACH_PX = 60;
const USUAL_REACH_PX = 12;

export function MaskPanel({ merge, title, operation, anchor, onMask, onSnap, onClose }: MaskPanelProps) {
  const [reachPx, setReach] = useState(USUAL_REACH_PX);
  const { set } = useBench.getState();
  useEffect(() => {
    set({ masked: operation.id });
    return () => set({ masked: null });
  }, [operation.id, set]);
  const mask = operation.mask ?? AS_MADE;
  const change = (part: Partial<OperationMaskRecord>): void => onMask({ ...mask, ...part });
  const isInParts = operation.also !== undefined;
  const isMatched = operation.tone !== undefined;
  const whole = { x: 0, y: 0, width: merge.width, height: merge.height };
  return (
    <Popover
      open
      anchorEl={anchor}
      onClose={onClose}
      anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
      transformOrigin={{ vertical: 'top', horizontal: 'right' }}
      slotProps={{
        paper: { role: 'dialog', 'aria-label': `Mask of ${title}`, sx: { width: 300, p: 1.5 } },
        // The picture shows what is done.
        backdrop: { invisible: true },
      }}
    >
      <Typography variant="h3">Mask of {title}</Typography>
      <Setting
        label="Grow or shrink"
        value={mask.growPx}
        min={isInParts ? 0 : -MOST_GROW_PX}
        max={MOST_GROW_PX}
        unit="px"
        onSet={(growPx) => change({ growPx })}
      />
      <Setting
        label="Soften the rim"
        value={mask.softenPx}
        min={0}
        max={MOST_CHANGE_PX}
        unit="px"
        onSet={(softenPx) => change({ softenPx })}
      />
      <Setting
        label="Strength"
        value={Math.round(100 * mask.strength)}
        min={1}
        max={100}
        unit="%"
        onSet={(percent) => change({ strength: percent / 100 })}
      />
      <FormControlLabel
        disabled={isInParts || isMatched}
        control={
          <Switch
            size="small"
            checked={mask.insideOut !== null}
            onChange={(_event, checked) => change({ insideOut: checked ? whole : null })}
          />
        }
        label="Everywhere but here"
        sx={{ '& .MuiFormControlLabel-label': { fontSize: 12.5 } }}
      />
      <Setting label="Edges are sought within" value={reachPx} min={2} max={MOST_REACH_PX} unit="px" onSet={setReach} />
      <Box sx={{ display: 'flex', gap: 1, pt: 0.5 }}>
        <Button size="small" variant="outlined" disabled={isInParts} onClick={() => onSnap(reachPx)}>
          Lay it to edges
        </Button>
        <Button size="small" color="inherit" disabled={operation.mask === null} onClick={() => onMask(null)}>
          As it was made
        </Button>
      </Box>
      {isInParts && (
        <Typography variant="body2" sx={{ pt: 0.5 }}>
          It mends in several parts that meet: they grow and soften together, and no more.
        </Typography>
      )}
    </Popover>
  );
}

interface SettingProps {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly unit: string;
  onSet(value: number): void;
}

/** A slider that acts when it is let go. */
function Setting({ label, value, min, max, unit, onSet }: SettingProps) {
  const [drawn, setDrawn] = useState<number | null>(null);
  return (
    <Box sx={{ pt: 0.75 }}>
      <Box sx={{ display: 'flex', justifyContent: 'space-between' }}>
        <Typography sx={{ fontSize: 12.5 }}>{label}</Typography>
        <Typography sx={{ fontSize: 12, fontFamily: MONO }}>
          {drawn ?? value} {unit}
        </Typography>
      </Box>
      <Slider
        size="small"
        aria-label={label}
        min={min}
        max={max}
        value={drawn ?? value}
        onChange={(_event, next) => setDrawn(next)}
        onChangeCommitted={(_event, next) => {
          setDrawn(null);
          if (next !== value) onSet(next);
        }}
        sx={{ py: 0.5, mx: 0.75, width: 'calc(100% - 12px)' }}
      />
    </Box>
  );
}
