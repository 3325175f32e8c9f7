// Where in a frame the alignment leaves something: parallax, drift or motion, as circles as large as what is left.
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Merge } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { tileUrl } from '../../shared/api';

const [MOST_WIDTH, MOST_HEIGHT] = [460, 340];
/** Circles show px of the frame, so many times as large. */
const MAGNIFIED = 12;
/** Beyond this, in px, something moved or lies at another depth; below it is what registration errs. */
const TELLING_PX = 0.6;

export function ResidualMap({ merge }: { readonly merge: Merge }) {
  const shown = merge.frames.filter((f) => f.residuals.length > 0);
  const [chosen, setChosen] = useState(shown[0]?.pictureId ?? '');
  const frame = shown.find((f) => f.pictureId === chosen);
  if (!frame) return null;
  const far = frame.residuals.filter(([, , off]) => off > TELLING_PX).length;
  const right = Math.max(...frame.residuals.map(([x]) => x)) * 1.02;
  const bottom = Math.max(...frame.residuals.map(([, y]) => y)) * 1.03;
  const scale = Math.min(MOST_WIDTH / right, MOST_HEIGHT / bottom);
  const [width, height] = [Math.round(right * scale), Math.round(bottom * scale)];
  return (
    <Box
      component="section"
      aria-label="Residual map"
      sx={{ display: 'flex', gap: 3, alignItems: 'flex-start', mb: 3 }}
    >
      <Box sx={{ position: 'relative', width, height, flex: 'none' }}>
        <img
          src={tileUrl(`p-${frame.pictureId}`, 'full', '!840,840')}
          alt={frame.fileName}
          style={{ width: '100%', height: '100%', objectFit: 'fill', filter: 'grayscale(0.7) brightness(0.6)' }}
        />
        <svg
          viewBox={`0 0 ${width} ${height}`}
          role="img"
          aria-label={`${frame.residuals.length} places, ${far} of them off by more than ${TELLING_PX} px`}
          style={{ position: 'absolute', inset: 0 }}
        >
          {frame.residuals.map(([x, y, off], n) => (
            <circle
              key={n}
              cx={x * scale}
              cy={y * scale}
              r={Math.min(26, Math.max(1, off * MAGNIFIED * 0.5))}
              fill="none"
              stroke="#ffffff"
              strokeWidth={off > TELLING_PX ? 1.6 : 0.8}
              strokeDasharray={off > TELLING_PX ? '' : '2 2'}
            />
          ))}
        </svg>
      </Box>
      <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 420 }}>
        <TextField
          select
          size="small"
          label="Frame"
          value={chosen}
          onChange={(event) => setChosen(event.target.value)}
          sx={{ width: 240 }}
        >
          {shown.map((f) => (
            <MenuItem key={f.pictureId} value={f.pictureId}>
              {f.fileName}
            </MenuItem>
          ))}
        </TextField>
        <Typography>
          {far} of {frame.residuals.length} places lie off by more than {TELLING_PX} px (full circles).
        </Typography>
        <Typography variant="body2" sx={{ color: GREY.quiet }}>
          Circles are drawn {MAGNIFIED} times as large as what is left. Many over a thing: it moved. Many over what is
          near, none over what is far: the camera moved off its pupil (parallax). All over one side: drift or a lens
          that was not corrected.
        </Typography>
      </Box>
    </Box>
  );
}
