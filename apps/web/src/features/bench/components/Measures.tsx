// Names and values, the values at the right: what was measured.
import Box from '@mui/material/Box';
import { GREY, MONO } from '../../../app/theme';

export function Measures({ rows }: { rows: readonly (readonly [string, string])[] }) {
  return (
    <Box component="dl" sx={{ m: 0, display: 'flex', flexDirection: 'column', rowGap: 0.4, fontSize: 12.5 }}>
      {rows.map(([name, value], k) => (
        <Box key={k} sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1 }}>
          <Box component="dt" sx={{ color: GREY.quiet }}>
            {name}
          </Box>
          <Box component="dd" sx={{ m: 0, ml: 'auto', fontFamily: MONO, fontSize: 11.5, whiteSpace: 'nowrap' }}>
            {value}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
