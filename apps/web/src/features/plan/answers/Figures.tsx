// Figures of a plan with what they mean.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { GREY, MONO } from '../../../app/theme';

export interface Figure {
  readonly label: string;
  readonly value: string;
  readonly meaning?: string;
}

export function Figures({ figures }: { readonly figures: readonly Figure[] }) {
  return (
    <Box
      component="dl"
      sx={{
        m: 0,
        display: 'grid',
        gridTemplateColumns: 'repeat(4, 1fr)',
        borderTop: `1px solid ${GREY.rule}`,
        borderLeft: `1px solid ${GREY.rule}`,
      }}
    >
      {figures.map(({ label, value, meaning }) => (
        <Box
          key={label}
          sx={{
            px: 1.25,
            py: 0.75,
            minWidth: 0,
            borderRight: `1px solid ${GREY.rule}`,
            borderBottom: `1px solid ${GREY.rule}`,
          }}
        >
          <Typography component="dt" variant="body2" color="text.secondary">
            {label}
          </Typography>
          <Typography component="dd" sx={{ m: 0, fontFamily: MONO, fontSize: 15 }}>
            {value}
          </Typography>
          {meaning && (
            <Typography component="dd" variant="body2" color="text.secondary" sx={{ m: 0 }}>
              {meaning}
            </Typography>
          )}
        </Box>
      ))}
    </Box>
  );
}
