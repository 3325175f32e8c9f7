// The trace strip: the place under the pointer as every frame shows it, with its sharpness above. Also the palette: whoever picks a patch
// paints with that frame, or with another merge of the set.
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import { memo, useRef, useState, type KeyboardEvent } from 'react';
import type { FrameMeasure, Probe } from '@blendrak/contract';
import { GREY, MONO } from '../../../app/theme';
import type { BenchMerge } from '../../../shared/queries';
import { donorCount, donorMark, donorName } from '../donors';
import { useTrace } from '../hooks/useTrace';
import { useBench, type Place } from '../store';
import { MoreToPaintWith } from './MoreToPaintWith';

const CURVE_PX = 14;
const GAP_PX = 6;
/** Of a frame that shows less of a place than this it is said that it is not here. */
const LEAST_COVERAGE = 0.02;

/** Rendered anew only when the place, its measures or what is in hand has changed. */
export const TraceStrip = memo(function TraceStrip({ merge, fallback }: { merge: BenchMerge; fallback: Place | null }) {
  const { place, probe } = useTrace(merge, fallback);
  const donor = useBench((s) => s.donor);
  const side = useBench((s) => s.layout.patchPx);
  const [current, setCurrent] = useState(0);
  const list = useRef<HTMLDivElement>(null);
  if (!place || !probe) {
    return (
      <Typography sx={{ p: 1.5, minHeight: side + CURVE_PX + 22 }} variant="body2" color="text.secondary">
        {place
          ? 'Looking at the frames …'
          : 'Rest the pointer on the picture: each frame’s view of that place appears here. Pick one to paint with it.'}
      </Typography>
    );
  }
  const measures = probe.frames;
  const best = measures.reduce((b, m, k) => (m.sharpness > (measures[b]?.sharpness ?? 0) ? k : b), 0);
  const count = donorCount(merge);
  const last = count - 1;
  const entry = Math.min(last, current);
  /** One stop for the tabulator; arrows walk along the strip. */
  const walk = (event: KeyboardEvent): void => {
    const to = { ArrowLeft: entry - 1, ArrowRight: entry + 1, Home: 0, End: last }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    const next = Math.min(last, Math.max(0, to));
    setCurrent(next);
    list.current?.querySelectorAll<HTMLElement>('[role="option"]')[next]?.focus();
  };
  return (
    <Box sx={{ overflowX: 'auto', px: 1.5, pb: 0.5 }}>
      <Box sx={{ position: 'relative', width: (count + 1) * (side + GAP_PX) }}>
        <Curve measures={measures} side={side} />
        <Box
          ref={list}
          role="listbox"
          aria-label="Frames at this place"
          aria-orientation="horizontal"
          onKeyDown={walk}
          sx={{ display: 'flex', gap: `${GAP_PX}px` }}
        >
          {Array.from({ length: count }, (_, k) => (
            <Patch
              key={k}
              probe={probe}
              index={k}
              name={donorName(merge, k)}
              mark={donorMark(merge, k).mark}
              side={side}
              isBest={best === k}
              isInHand={donor === k}
              isEntry={k === entry}
              onFocus={() => setCurrent(k)}
            />
          ))}
        </Box>
        <MoreToPaintWith merge={merge} side={side} left={count * (side + GAP_PX)} top={CURVE_PX} />
      </Box>
    </Box>
  );
});

interface PatchProps {
  readonly probe: Probe;
  readonly index: number;
  readonly name: string;
  readonly mark: string;
  readonly side: number;
  readonly isBest: boolean;
  readonly isInHand: boolean;
  readonly isEntry: boolean;
  onFocus(): void;
}

function Patch({ probe, index, name, mark, side, isBest, isInHand, isEntry, onFocus }: PatchProps) {
  const takeDonor = useBench((s) => s.takeDonor);
  const measure = probe.frames[index];
  const isShown = probe.shown === index;
  const isHere = !measure || measure.coverage >= LEAST_COVERAGE;
  const words = [isHere ? '' : 'not here', isShown ? 'shown now' : '', isBest ? 'sharpest' : ''].filter(Boolean);
  return (
    <ButtonBase
      role="option"
      tabIndex={isEntry ? 0 : -1}
      aria-selected={isInHand}
      aria-label={[name, ...words].join(', ')}
      title={`${[name, ...words].join(', ')}: pick to paint with it`}
      onFocus={onFocus}
      onClick={() => takeDonor(isInHand ? null : index)}
      sx={{
        display: 'block',
        width: side,
        flex: 'none',
        outline: isInHand ? `3px solid ${GREY.text}` : 'none',
        outlineOffset: '-1px',
        bgcolor: isInHand ? GREY.raised : 'transparent',
      }}
    >
      <Box
        sx={{
          width: side,
          height: side,
          bgcolor: '#777',
          display: 'grid',
          placeItems: 'center',
          fontSize: 10.5,
          ...(isHere &&
            index < probe.patchCount && {
              backgroundImage: `url(${probe.patches})`,
              backgroundSize: `${side * probe.patchCount}px ${side}px`,
              backgroundPosition: `${-side * index}px 0`,
            }),
        }}
      >
        {isHere ? '' : 'not here'}
      </Box>
      <Box sx={{ display: 'flex', gap: 0.25, fontFamily: MONO, fontSize: 11, lineHeight: '16px', px: 0.25 }}>
        <span>{mark}</span>
        <span>
          {isShown ? '▲' : ''}
          {isBest ? '◆' : ''}
        </span>
        <Box component="span" sx={{ ml: 'auto' }}>
          {measure && isHere ? Math.round(100 * measure.sharpness) : ''}
        </Box>
      </Box>
    </ButtonBase>
  );
}

/** Sharpness over the frames, one point above each patch. */
function Curve({ measures, side }: { measures: readonly FrameMeasure[]; side: number }) {
  const step = side + GAP_PX;
  const points = measures.map((m, k) => [k * step + side / 2, CURVE_PX - 3 - m.sharpness * (CURVE_PX - 6)] as const);
  return (
    <svg height={CURVE_PX} width={Math.max(1, measures.length * step)} aria-hidden="true" style={{ display: 'block' }}>
      <polyline points={points.map((p) => p.join(',')).join(' ')} fill="none" stroke={GREY.quiet} strokeWidth={1.5} />
      {points.map(([x, y]) => (
        <circle key={x} cx={x} cy={y} r={2.5} fill={GREY.text} />
      ))}
    </svg>
  );
}
