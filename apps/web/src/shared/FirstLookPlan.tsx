// What a first look at a small picture shows of a merge, drawn where it lies, while the whole is still looked at.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { FirstLook } from '@blendrak/contract';
import { GREY } from '../app/theme';
import { tileUrl } from './api';
import { DEFECT_LOOKS, DefectSign } from './defects';

const SIGN_PX = 14;

interface FirstLookPlanProps {
  readonly first: FirstLook;
  /** It is drawn no larger than this. */
  readonly mostWidth?: number;
  readonly mostHeight?: number;
}

export function FirstLookPlan({ first, mostWidth = 260, mostHeight = 170 }: FirstLookPlanProps) {
  const { pictureId, findings } = first;
  const scale = Math.min(mostWidth / first.width, mostHeight / first.height);
  const [width, height] = [Math.round(scale * first.width), Math.round(scale * first.height)];
  return (
    <Box component="section" aria-label="First look" sx={{ mt: 1 }}>
      <Typography variant="body2">{wordsOf(first)}</Typography>
      {findings.length > 0 && (
        <Box sx={{ position: 'relative', width, height, mt: 0.75, bgcolor: GREY.rule }}>
          {pictureId && (
            <img
              src={tileUrl(`p-${pictureId}`, 'full', `!${2 * mostWidth},${2 * mostHeight}`)}
              alt=""
              style={{ width: '100%', height: '100%', objectFit: 'fill', filter: 'grayscale(0.7) brightness(0.6)' }}
            />
          )}
          {findings.map(({ defect, bbox }, n) => (
            <Box
              key={n}
              title={DEFECT_LOOKS[defect].name}
              sx={{ position: 'absolute', lineHeight: 0 }}
              style={{
                left: scale * (bbox.x + bbox.width / 2) - SIGN_PX / 2,
                top: scale * (bbox.y + bbox.height / 2) - SIGN_PX / 2,
              }}
            >
              <DefectSign defect={defect} size={SIGN_PX} />
            </Box>
          ))}
        </Box>
      )}
    </Box>
  );
}

function wordsOf({ findings }: FirstLook): string {
  if (findings.length === 0) return 'A first look at a small picture shows nothing; the whole is being looked at.';
  const kinds = [...new Set(findings.map((f) => f.defect))].map((defect) => {
    return `${DEFECT_LOOKS[defect].name.toLowerCase()} ${findings.filter((f) => f.defect === defect).length}`;
  });
  return `A first look at a small picture shows: ${kinds.join(', ')}. The whole is being looked at; names and places may change.`;
}
