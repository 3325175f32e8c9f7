// The picture of finishing: cut on a sheet or hung on a wall, and how far one stands from it.
import Box from '@mui/material/Box';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useState, type ComponentProps } from 'react';
import { GREY } from '../../app/theme';
import { CutSheet } from './CutSheet';
import { DistanceLine } from './DistanceLine';
import { Wall } from './Wall';

interface PictureSideProps extends ComponentProps<typeof CutSheet> {
  /** Side of a px on the print, mm. */
  readonly pitchMm: number;
  onDistance(distanceMm: number): void;
}

export function PictureSide({ pitchMm, onDistance, ...sheet }: PictureSideProps) {
  const { merge, cut, distanceMm, findings } = sheet;
  const [view, setView] = useState<'cut' | 'wall'>('cut');
  return (
    <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column', bgcolor: '#777' }}>
      <Box sx={{ height: 34, display: 'flex', alignItems: 'center', px: 1.5, bgcolor: GREY.page, flex: 'none' }}>
        <ToggleButtonGroup
          size="small"
          exclusive
          aria-label="How it is shown"
          value={view}
          onChange={(_event, next: 'cut' | 'wall' | null) => next && setView(next)}
          sx={{ '& .MuiToggleButton-root': { py: 0.1, px: 1 } }}
        >
          <ToggleButton value="cut">Cut</ToggleButton>
          <ToggleButton value="wall">On a wall, to scale</ToggleButton>
        </ToggleButtonGroup>
      </Box>
      <Box sx={{ flex: 1, minHeight: 0, p: view === 'cut' ? 2 : 0 }}>
        {view === 'cut' ? <CutSheet {...sheet} /> : <Wall {...{ merge, cut, distanceMm, pitchMm, findings }} />}
      </Box>
      <Box sx={{ bgcolor: GREY.page, flex: 'none' }}>
        <DistanceLine {...{ distanceMm, findings, onDistance }} />
      </Box>
    </Box>
  );
}
