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
  ghost: plain('Ghost'),
  seam: plain('Seam'),
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
  border: plain('Border'),
  dust: plain('Dust'),
  fringe: plain('Fringe'),
  clipping: plain('Clipping'),
};

/** Small sign of a defect. */
export function DefectSign({ defect, size = 18 }: { defect: DefectWord; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 18 18" aria-hidden="true" style={{ flex: 'none' }}>
      {DEFECT_LOOKS[defect].sign}
    </svg>
  );
}
