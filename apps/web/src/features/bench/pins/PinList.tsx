// All pins of a merge, each with what it says.
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import type { Pin } from '@blendrak/contract';
import { GREY, MONO } from '../../../app/theme';
import type { BenchMerge } from '../../../shared/queries';
import { PIN_NAMES, verdictOn } from './readingWords';

interface PinListProps {
  readonly merge: BenchMerge;
  readonly pins: readonly Pin[];
  onOpen(pin: Pin): void;
}

export function PinList({ merge, pins, onOpen }: PinListProps) {
  if (pins.length === 0) return null;
  const names = merge.frames.map((f) => f.fileName);
  return (
    <Box sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1 }}>
      <Typography variant="h3" sx={{ pb: 0.5 }}>
        Measured
      </Typography>
      <Box component="ul" aria-label="Pins" sx={{ listStyle: 'none', m: 0, p: 0, maxHeight: 180, overflow: 'auto' }}>
        {pins.map((pin) => (
          <li key={pin.id}>
            <ButtonBase
              onClick={() => onOpen(pin)}
              sx={{ display: 'block', width: '100%', textAlign: 'left', py: 0.5, '&:hover': { bgcolor: GREY.raised } }}
            >
              <Box component="span" sx={{ fontFamily: MONO, fontSize: 11.5, mr: 0.75 }}>
                {pin.number}
              </Box>
              <Box component="span" sx={{ fontSize: 12.5 }}>
                {PIN_NAMES[pin.kind]}
              </Box>
              <Typography variant="body2" color="text.secondary" sx={{ fontSize: 11.5 }}>
                {verdictOn(pin.reading, names)}
              </Typography>
            </ButtonBase>
          </li>
        ))}
      </Box>
    </Box>
  );
}
