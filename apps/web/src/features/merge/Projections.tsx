// The projections of a panorama side by side: a small picture and its bending in numbers.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { Merge, PanoramaFacts } from '@blendrak/contract';
import { GREY } from '../../app/theme';

export const PROJECTION_WORDS = {
  flat: 'Flat',
  cylindrical: 'Cylinder',
  spherical: 'Sphere',
  repositioned: 'Unbent',
} as const;

interface ProjectionsProps {
  readonly merge: Merge;
  readonly panorama: NonNullable<PanoramaFacts['composed']>;
}

export function Projections({ merge, panorama }: ProjectionsProps) {
  return (
    <Box component="section" aria-label="Projections">
      <Typography variant="h3" component="h2" sx={{ mb: 1 }}>
        Projections side by side
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 1.5 }}>
        {panorama.projections.map((p) => {
          const taken = p.projection === panorama.projection;
          return (
            <Box key={p.projection} sx={{ border: `1px solid ${taken ? GREY.text : GREY.rule}`, p: 1, minWidth: 0 }}>
              <Box
                sx={{
                  height: 130,
                  bgcolor: '#777777',
                  display: 'flex',
                  justifyContent: 'center',
                  alignItems: 'center',
                }}
              >
                <img
                  src={`/api/merges/${merge.id}/projections/${p.projection}.jpg`}
                  alt={`The set in the ${PROJECTION_WORDS[p.projection].toLowerCase()} projection`}
                  loading="lazy"
                  style={{ maxWidth: '100%', maxHeight: 130 }}
                />
              </Box>
              <Typography sx={{ fontWeight: 650, mt: 0.5 }}>
                {PROJECTION_WORDS[p.projection]}
                {taken ? ' (taken)' : ''}
              </Typography>
              <Typography variant="body2" color="text.secondary">
                {p.width} × {p.height} px after the crop, which costs {(100 * p.cropLoss).toFixed(0)} %. Straight lines
                bend by up to {(100 * p.bend).toFixed(1)} % of their length; the rim is stretched {p.stretch.toFixed(2)}{' '}
                times.{p.misfitPx > 0 && ` Neighbours miss each other by ${p.misfitPx.toFixed(0)} px where they meet.`}
              </Typography>
            </Box>
          );
        })}
      </Box>
      {panorama.projections.every((p) => p.projection !== 'flat') && (
        <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
          A flat picture cannot show this field of view.
        </Typography>
      )}
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
        Focal length {panorama.focalPx.toFixed(0)} px; distortion {(100 * panorama.distortion[0]).toFixed(2)} %,{' '}
        {(100 * panorama.distortion[1]).toFixed(2)} %; vignetting taken out: corners{' '}
        {(-100 * (panorama.vignetting[0] + panorama.vignetting[1])).toFixed(1)} % darker. Levelled by{' '}
        {panorama.uprightSupport > 0 ? 'things that stand upright' : 'how the camera was held'}.{' '}
        {panorama.lines > 0
          ? `Bending is measured on ${panorama.lines} straight edges found in the frames.`
          : 'Bending is measured on lines across the frames: no long straight edges were found in them.'}
      </Typography>
    </Box>
  );
}
