// Frames that are not in their place, and what else is to be said of some.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { MergeFacts } from '@blendrak/contract';

export function FrameRemarks({ facts }: { readonly facts: MergeFacts }) {
  if (facts.failed.length + facts.remarks.length === 0) return null;
  return (
    <Box component="ul" aria-label="Frames that need a look" sx={{ my: 0, pl: 2.5 }}>
      {[...facts.failed, ...facts.remarks].map((f, n) => (
        <Typography component="li" key={n} color={n < facts.failed.length ? 'warning.main' : 'text.primary'}>
          <b>{f.fileName}</b>: {f.why}
        </Typography>
      ))}
    </Box>
  );
}
