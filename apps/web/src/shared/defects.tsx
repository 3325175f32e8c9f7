// How defects are named and drawn: by shape and line, never by colour alone.
import type { DefectWord } from '@blendrak/contract';

export const DEFECT_NAMES: Record<DefectWord, string> = {
  halo: 'Halo',
  ghost: 'Ghost',
  seam: 'Seam',
  misalignment: 'Misalignment',
  'soft-patch': 'Soft patch',
  'focus-gap': 'Focus gap',
  'mask-speckle': 'Mask speckle',
  border: 'Border',
  dust: 'Dust',
  fringe: 'Fringe',
  clipping: 'Clipping',
};

/** Small sign of a defect: double line for halo, dots for soft patch, open brackets for focus gap, offset bars for misalignment. */
export function DefectSign({ defect, size = 18 }: { defect: DefectWord; size?: number }) {
  const common = { fill: 'none', stroke: 'currentColor', strokeWidth: 1.6 };
  return (
    <svg width={size} height={size} viewBox="0 0 18 18" aria-hidden="true" style={{ flex: 'none' }}>
      {defect === 'halo' && (
        <>
          <circle cx="9" cy="9" r="7" {...common} />
          <circle cx="9" cy="9" r="4" {...common} />
        </>
      )}
      {defect === 'soft-patch' && (
        <circle cx="9" cy="9" r="6.5" {...common} strokeWidth={2.4} strokeDasharray="0.1 4" strokeLinecap="round" />
      )}
      {defect === 'focus-gap' && <path d="M6 3H3v12h3M12 3h3v12h-3" {...common} />}
      {defect === 'misalignment' && <path d="M2 4h10M6 8h10M2 12h10M6 16h10" {...common} />}
      {!['halo', 'soft-patch', 'focus-gap', 'misalignment'].includes(defect) && (
        <rect x="3" y="3" width="12" height="12" {...common} strokeDasharray="3 2" />
      )}
    </svg>
  );
}
