// What each frame gives the merge, as bars; frames that add nothing are named.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { Merge } from '@blendrak/contract';
import { GREY, MONO } from '../../app/theme';
import { exposureWords } from './mergeSettings';

/** A frame with less than this share could be left out without a visible difference. */
const ADDS_NOTHING = 0.005;

export function FrameShares({ merge }: { readonly merge: Merge }) {
  const most = Math.max(...merge.frames.map((f) => f.share), 1e-9);
  const spare = merge.frames.filter((f) => f.share < ADDS_NOTHING);
  return (
    <Box component="section" aria-label="Share of each frame">
      <Typography variant="h3" component="h2" sx={{ mb: 1 }}>
        Share of each frame
      </Typography>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: 'minmax(110px, auto) 1fr auto',
          columnGap: 1.5,
          rowGap: 0.5,
          alignItems: 'center',
        }}
      >
        {merge.frames.map((f, k) => (
          <Box key={f.pictureId} sx={{ display: 'contents' }}>
            <Typography variant="body2" noWrap>
              {f.fileName}
            </Typography>
            <Box sx={{ bgcolor: GREY.panel, height: 12 }}>
              <Box sx={{ width: `${(100 * f.share) / most}%`, height: '100%', bgcolor: GREY.quiet }} />
            </Box>
            <Typography variant="body2" sx={{ fontFamily: MONO, textAlign: 'right' }}>
              {[`${(100 * f.share).toFixed(1)} %`, exposureWords(merge.facts, k)]
                .filter((words) => words !== '')
                .join(' · ')}
            </Typography>
          </Box>
        ))}
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
        {spare.length === 0
          ? 'Every frame adds something.'
          : `${spare.map((f) => f.fileName).join(', ')} ${spare.length === 1 ? 'adds' : 'add'} nothing visible: the merge can do without.`}
      </Typography>
    </Box>
  );
}
