// What the picture area shows, zoom, place, and what can be taken away.
import Box from '@mui/material/Box';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { memo, useEffect, useRef, useState } from 'react';
import { GREY, MONO } from '../../../app/theme';
import { CommandButton } from '../../../shared/commands/CommandButton';
import type { Command } from '../../../shared/commands/keys';
import type { BenchMerge } from '../../../shared/queries';
import type { DeepView } from '../../../viewer/deepView';
import { donorMark } from '../donors';
import type { Hover } from '../hover';
import { LOOKS, type LookId } from '../looks';
import { useBench } from '../store';
import { ExportMenu } from './ExportMenu';
import { LookMenu } from './LookMenu';

interface LookBarProps {
  readonly merge: BenchMerge;
  readonly deep: DeepView | null;
  readonly hover: Hover;
  readonly commands: Readonly<Record<string, Command>>;
  /** A mask was read that a frame is to be painted in by. */
  onMask(donor: number, file: File): void;
}

/** Rendered anew only when what it shows has changed, not with every stroke that is on its way. */
export const LookBar = memo(function LookBar({ merge, deep, hover, commands, onMask }: LookBarProps) {
  const look = useBench((s) => s.look);
  const peek = useBench((s) => s.peek);
  const donor = useBench((s) => s.donor);
  const showMarks = useBench((s) => s.showMarks);
  const showProvenance = useBench((s) => s.showProvenance);
  const set = useBench((s) => s.set);
  const shown = peek ?? look;
  // The button says which frame is looked at, or would be.
  const frame = shown.id === 'frame' ? shown.frame : (donor ?? shown.frame);
  const mark = donorMark(merge, frame);
  const button = { py: 0.1, px: 1 };
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        px: 1.5,
        height: 34,
        flex: 'none',
        borderBottom: `1px solid ${GREY.rule}`,
      }}
    >
      <ToggleButtonGroup
        size="small"
        exclusive
        value={shown.id}
        aria-label="What is shown"
        onChange={(_event, id: LookId | null) => {
          if (id) set({ look: { id, frame } });
        }}
        sx={{ '& .MuiToggleButton-root': button }}
      >
        {LOOKS.filter((l) => l.place === 'bar').map(({ id, label }) => (
          <ToggleButton key={id} value={id} sx={{ whiteSpace: 'nowrap' }}>
            {label(mark)}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <LookMenu shown={shown.id} frame={mark} commands={commands} />
      <ToggleButton
        size="small"
        value="marks"
        selected={showMarks}
        onChange={() => commands['marks']!.run(true)}
        sx={button}
      >
        Marks
      </ToggleButton>
      <ToggleButton
        size="small"
        value="provenance"
        selected={showProvenance}
        onChange={() => commands['provenance']!.run(true)}
        sx={button}
      >
        Provenance
      </ToggleButton>
      <Readout deep={deep} hover={hover} />
      <Box sx={{ ml: 'auto', display: 'flex', gap: 0.5 }}>
        <ExportMenu {...{ merge, onMask }} />
        <CommandButton command={commands['sheet']!}>Keys ?</CommandButton>
      </Box>
    </Box>
  );
});

/** Zoom, and where the pointer is: written into the page directly, as nothing else depends on it. */
function Readout({ deep, hover }: Pick<LookBarProps, 'deep' | 'hover'>) {
  const zoom = useZoom(deep);
  const place = useRef<HTMLSpanElement>(null);
  useEffect(
    () =>
      hover.onMove((at) => {
        if (place.current) place.current.textContent = at ? `  x ${Math.round(at.x)} y ${Math.round(at.y)}` : '';
      }),
    [hover],
  );
  return (
    <Typography sx={{ fontFamily: MONO, fontSize: 12, color: GREY.quiet, ml: 0.5, whiteSpace: 'pre' }} noWrap>
      {Math.round(zoom * 100)} %<span ref={place} />
    </Typography>
  );
}

function useZoom(deep: DeepView | null): number {
  const [zoom, setZoom] = useState(1);
  useEffect(() => {
    if (!deep) return;
    const read = (): void => setZoom(deep.camera().zoom * window.devicePixelRatio);
    read();
    return deep.onChange(read);
  }, [deep]);
  return zoom;
}
