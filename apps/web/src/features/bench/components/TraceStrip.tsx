// The trace strip: the place under the pointer as every frame shows it, with its sharpness above. Also the brush's palette.
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import type { FrameMeasure, Merge } from '@blendrak/contract';
import { GREY, MONO } from '../../../app/theme';
import { tileUrl } from '../../../shared/api';
import { PATCH_PX, useProbe, useRestingPlace } from '../hooks/useProbe';
import { useBench, type Place } from '../store';

const SIDE = 64;
const CURVE_HEIGHT = 30;

export function TraceStrip({ merge, fallback }: { merge: Merge; fallback: Place | null }) {
  const place = useRestingPlace() ?? fallback;
  const probe = useProbe(merge.id, place, merge.revision);
  const donor = useBench((s) => s.donor);
  if (!place) {
    return (
      <Typography sx={{ p: 1.5 }} variant="body2" color="text.secondary">
        Rest the pointer on the picture: each frame's view of that place appears here. Pick one to paint with it.
      </Typography>
    );
  }
  const measures = probe.data?.frames ?? [];
  const best = measures.reduce((b, m, k) => (m.sharpness > (measures[b]?.sharpness ?? 0) ? k : b), 0);
  const step = SIDE + 6;
  return (
    <Box sx={{ overflowX: 'auto', px: 1.5, pt: 0.5, pb: 1 }}>
      <Box sx={{ position: 'relative', width: merge.frames.length * step }}>
        <Curve measures={measures} step={step} />
        <Box role="listbox" aria-label="Frames at this place" sx={{ display: 'flex', gap: '6px' }}>
          {merge.frames.map((frame, k) => (
            <Patch
              key={frame.pictureId}
              url={patchUrl(merge, k, place)}
              number={k + 1}
              name={frame.fileName}
              measure={measures[k]}
              shown={probe.data?.shown === k}
              best={measures.length > 0 && best === k}
              inHand={donor === k}
            />
          ))}
        </Box>
      </Box>
    </Box>
  );
}

interface PatchProps {
  readonly url: string;
  readonly number: number;
  readonly name: string;
  readonly measure: FrameMeasure | undefined;
  readonly shown: boolean;
  readonly best: boolean;
  readonly inHand: boolean;
}

function Patch({ url, number, name, measure, shown, best, inHand }: PatchProps) {
  const takeDonor = useBench((s) => s.takeDonor);
  const words = [shown ? 'shown now' : '', best ? 'sharpest' : ''].filter(Boolean).join(', ');
  return (
    <ButtonBase
      role="option"
      aria-selected={inHand}
      aria-label={`${name}${words ? `, ${words}` : ''}`}
      title={`${name}: pick to paint with it`}
      onClick={() => takeDonor(inHand ? null : number - 1)}
      sx={{
        display: 'block',
        width: SIDE,
        flex: 'none',
        outline: inHand ? `3px solid ${GREY.text}` : 'none',
        outlineOffset: '-1px',
        bgcolor: inHand ? GREY.raised : 'transparent',
      }}
    >
      <img src={url} width={SIDE} height={SIDE} alt="" style={{ display: 'block', background: '#777' }} />
      <Box sx={{ display: 'flex', justifyContent: 'space-between', fontFamily: MONO, fontSize: 11, px: 0.25 }}>
        <span>{number}</span>
        <span>{measure ? `${Math.round(100 * measure.sharpness)} %` : ''}</span>
      </Box>
      <Box sx={{ fontSize: 10.5, height: 14, textAlign: 'left', px: 0.25, color: GREY.quiet, whiteSpace: 'nowrap' }}>
        {shown ? '▲ shown' : ''}
        {best ? (shown ? ' ◆' : '◆ sharpest') : ''}
      </Box>
    </ButtonBase>
  );
}

/** Sharpness over the frames, one point above each patch. */
function Curve({ measures, step }: { measures: readonly FrameMeasure[]; step: number }) {
  const points = measures.map(
    (m, k) => [k * step + SIDE / 2, CURVE_HEIGHT - 4 - m.sharpness * (CURVE_HEIGHT - 8)] as const,
  );
  return (
    <svg
      height={CURVE_HEIGHT}
      width={Math.max(1, measures.length * step)}
      aria-hidden="true"
      style={{ display: 'block' }}
    >
      <polyline points={points.map((p) => p.join(',')).join(' ')} fill="none" stroke={GREY.quiet} strokeWidth={1.5} />
      {points.map(([x, y]) => (
        <circle key={x} cx={x} cy={y} r={2.5} fill={GREY.text} />
      ))}
    </svg>
  );
}

function patchUrl(merge: Merge, frame: number, place: Place): string {
  const x = Math.round(Math.min(merge.width - PATCH_PX, Math.max(0, place.x - PATCH_PX / 2)));
  const y = Math.round(Math.min(merge.height - PATCH_PX, Math.max(0, place.y - PATCH_PX / 2)));
  return tileUrl(`f-${merge.id}-${frame}`, { x, y, width: PATCH_PX, height: PATCH_PX }, 'max', 0);
}
