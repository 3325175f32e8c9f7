// How defects are named and drawn: one table. Told apart by shape and line, never by colour alone.
import type { ReactElement } from 'react';
import type { DefectWord } from '@blendrak/contract';
import type { MarkStyle } from '../viewer/drawMarks';

interface DefectLook {
  readonly name: string;
  /** How its region is marked on the picture. */
  readonly mark: MarkStyle;
  /** Its small sign in a box of 18 × 18. */
  readonly sign: ReactElement;
}

const LINE = { fill: 'none', stroke: 'currentColor', strokeWidth: 1.6 };
const PLAIN_SIGN = <rect x="3" y="3" width="12" height="12" {...LINE} strokeDasharray="3 2" />;

function plain(name: string): DefectLook {
  return { name, mark: 'dashes', sign: PLAIN_SIGN };
}

export const DEFECT_LOOKS: Readonly<Record<DefectWord, DefectLook>> = {
  halo: {
    name: 'Halo',
    mark: 'double-line',
    sign: (
      <>
        <circle cx="9" cy="9" r="7" {...LINE} />
        <circle cx="9" cy="9" r="4" {...LINE} />
      </>
    ),
  },
  ghost: {
    name: 'Ghost',
    mark: 'twin-dashes',
    sign: (
      <>
        <rect x="2" y="2" width="10" height="10" {...LINE} strokeDasharray="3 2" />
        <rect x="6" y="6" width="10" height="10" {...LINE} strokeDasharray="3 2" />
      </>
    ),
  },
  seam: {
    name: 'Seam',
    mark: 'stitches',
    sign: <path d="M2 9h14M5 6v6M9 6v6M13 6v6" {...LINE} />,
  },
  misalignment: {
    name: 'Misalignment',
    mark: 'offset-bars',
    sign: <path d="M2 4h10M6 8h10M2 12h10M6 16h10" {...LINE} />,
  },
  'soft-patch': {
    name: 'Soft patch',
    mark: 'dots',
    sign: <circle cx="9" cy="9" r="6.5" {...LINE} strokeWidth={2.4} strokeDasharray="0.1 4" strokeLinecap="round" />,
  },
  'focus-gap': {
    name: 'Focus gap',
    mark: 'brackets',
    sign: <path d="M6 3H3v12h3M12 3h3v12h-3" {...LINE} />,
  },
  'mask-speckle': plain('Mask speckle'),
  border: {
    name: 'Border',
    mark: 'hatched-rim',
    sign: <path d="M3 2h12v14H3zM3 7l5-5M3 12L13 2M5 16L15 6M10 16l5-5" {...LINE} strokeWidth={1.2} />,
  },
  dust: {
    name: 'Dust',
    mark: 'ring',
    sign: (
      <>
        <path d="M6.5 3A6.5 6.5 0 1 0 11.5 3" {...LINE} />
        <circle cx="9" cy="9" r="1.6" fill="currentColor" />
      </>
    ),
  },
  fringe: plain('Fringe'),
  clipping: {
    name: 'Clipping',
    mark: 'cut-corners',
    sign: <path d="M6 3h6l3 3v6l-3 3H6l-3-3V6z" {...LINE} />,
  },
};

/** Small sign of a defect. */
export function DefectSign({ defect, size = 18 }: { defect: DefectWord; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 18 18" aria-hidden="true" style={{ flex: 'none' }}>
      {DEFECT_LOOKS[defect].sign}
    </svg>
  );
}
