// The sheet of keys.
import Box from '@mui/material/Box';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { MONO } from '../../../app/theme';
import { COMMANDS } from '../commands';

const REST: [string, string][] = [
  ['Shift + the key of a look', 'Keep that look'],
  ['Wheel', 'Closer, further away'],
  ['Drag', 'Move the picture, or work with what is in hand'],
  ['Drag with the secondary button', 'Move the picture while something is in hand'],
  ['Two fingers', 'Move the picture and pinch it, also with something in hand'],
  ['Tap', 'Trace a place'],
  ['Alt + wheel', 'Brush size'],
  ['Arrows on the picture', 'Move the cross (Shift: by one px)'],
  ['Space on the picture', 'Trace the place; with something in hand: begin, and finish'],
];

export function ShortcutSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  // A look has one key: that it also keeps it is said once for all of them.
  const commands = Object.values(COMMANDS).filter(({ id }) => !id.startsWith('look-'));
  const rows = [...commands.map((c): [string, string] => [c.shown, c.label]), ...REST];
  return (
    <Dialog open={open} onClose={onClose}>
      <DialogTitle>Keys and pointer</DialogTitle>
      <DialogContent>
        <Box component="dl" sx={{ m: 0, display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 3, rowGap: 0.75 }}>
          {rows.map(([key, label]) => (
            <Box key={key} sx={{ display: 'contents' }}>
              <Box component="dt" sx={{ fontFamily: MONO }}>
                {key}
              </Box>
              <Box component="dd" sx={{ m: 0 }}>
                {label}
              </Box>
            </Box>
          ))}
        </Box>
      </DialogContent>
    </Dialog>
  );
}
