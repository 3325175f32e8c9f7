// What of the repairs of the merge before could not be carried over to this one, and why: it is to be done anew.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { GREY } from '../../../app/theme';
import type { BenchMerge } from '../../../shared/queries';

export function LeftBehind({ merge: { carried } }: { readonly merge: BenchMerge }) {
  if (!carried || carried.left.length === 0) return null;
  return (
    <Box sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1 }}>
      <Typography variant="h3" sx={{ pb: 0.5 }}>
        Not carried over from the merge before
      </Typography>
      <Box component="ul" aria-label="Not carried over" sx={{ m: 0, pl: 2, fontSize: 12.5 }}>
        {carried.left.map(({ words, why }, k) => (
          <li key={k}>
            {words}: {why}.
          </li>
        ))}
      </Box>
    </Box>
  );
}
