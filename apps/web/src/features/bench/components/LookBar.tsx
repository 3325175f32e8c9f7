// What the picture area shows, zoom and help.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import type { PaintedMerge } from '../../../shared/queries';
import { GREY, MONO } from '../../../app/theme';
import type { DeepView } from '../../../viewer/deepView';
import { useBench } from '../store';
import { ExportMenu } from './ExportMenu';

export function LookBar({ merge, deep, onHelp }: { merge: PaintedMerge; deep: DeepView | null; onHelp: () => void }) {
  const { look, peek, showMarks, showProvenance, donor, pointer, set } = useBench();
  const zoom = useZoom(deep);
  const shown = peek ?? look;
  // The button says which frame is looked at, or would be.
  const frame = shown.kind === 'frame' ? shown.frame : (donor ?? 0);
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1.5,
        px: 1.5,
        height: 40,
        borderBottom: `1px solid ${GREY.rule}`,
      }}
    >
      <ToggleButtonGroup
        size="small"
        exclusive
        value={shown.kind}
        aria-label="What is shown"
        onChange={(_event, value: 'repaired' | 'before' | 'frame' | null) => {
          if (value === 'frame') set({ look: { kind: 'frame', frame } });
          else if (value) set({ look: { kind: value } });
        }}
        sx={{ '& .MuiToggleButton-root': { py: 0.25, px: 1.25 } }}
      >
        <ToggleButton value="repaired">Repaired</ToggleButton>
        <ToggleButton value="before">Before</ToggleButton>
        <ToggleButton value="frame">Frame {frame + 1}</ToggleButton>
      </ToggleButtonGroup>
      <ToggleButton
        size="small"
        value="marks"
        selected={showMarks}
        onChange={() => set({ showMarks: !showMarks })}
        sx={{ py: 0.25 }}
      >
        Marks
      </ToggleButton>
      <ToggleButton
        size="small"
        value="provenance"
        selected={showProvenance}
        onChange={() => set({ showProvenance: !showProvenance })}
        sx={{ py: 0.25 }}
      >
        Provenance
      </ToggleButton>
      <Typography sx={{ fontFamily: MONO, fontSize: 12, color: GREY.quiet, ml: 1 }} noWrap>
        {Math.round(zoom * 100)} %{pointer ? `  x ${Math.round(pointer.x)} y ${Math.round(pointer.y)}` : ''}
      </Typography>
      <Box sx={{ ml: 'auto', display: 'flex', gap: 0.5 }}>
        <ExportMenu merge={merge} />
        <Button color="inherit" onClick={onHelp} aria-label="Keyboard shortcuts">
          Keys ?
        </Button>
      </Box>
    </Box>
  );
}

function useZoom(deep: DeepView | null): number {
  const [zoom, setZoom] = useState(1);
  useEffect(() => {
    if (!deep) return;
    const read = (): void => setZoom(deep.view().zoom * window.devicePixelRatio);
    read();
    return deep.onChange(read);
  }, [deep]);
  return zoom;
}
