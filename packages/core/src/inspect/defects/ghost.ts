// ghost: something moved between the frames, and the merge shows it see-through, in pieces, or twice.
import { findComponents, median } from '../../image';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { agreement } from '../layers/agreement';
import { explanation } from '../layers/explanation';
import { DISAGREE, findStrangers } from '../strangers';

/** Things are smaller than this share of the picture; water, leaves and clouds are not things. */
const LARGEST_THING = 0.06;
const MIN_CELLS = 30;
/** A cut shows each frame in this share of the thing at least, over a border of so many cells. */
const LEAST_PART = 0.15;
const LEAST_BORDER = 5;
/** Share of a thing that was found as a mixture already. */
const SAME_THING = 0.3;
/** Forms of this difference are plain when one half of each is shown. */
const PLAIN = 4 * JUST_VISIBLE;
/** The halves of a thing differ by so many times the texture that the merge has at the border. */
const STANDS_OUT = 1.15;

function findGhosts(evidence: Evidence): Detection[] {
  const mixed = findStrangers(evidence)
    .filter((s) => !s.framesAgree)
    .map((s): Detection => ({ defect: 'ghost', ...s.detection }));
  // Exposures differ by more than a cut shows: their tones would have to be equalised place by place first.
  if (evidence.facts.kind === 'bracket') return mixed;
  // A thing that is mixed is not cut besides.
  const known = new Set(mixed.flatMap((d) => d.cells));
  const cuts = findCuts(evidence).filter(
    ({ cells }) => cells.filter((i) => known.has(i)).length < SAME_THING * cells.length,
  );
  return [...mixed, ...cuts];
}

/** Things that moved, of which the merge shows one part from one frame and the rest from another. */
function findCuts(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  // At the cut itself no frame explains the cells: the closest one still tells the sides.
  const { closest } = evidence.of(explanation);
  const { apart, apartOverNoise, texture } = evidence.of(agreement);
  const data = Uint8Array.from(apart, (v, i) => (v > JUST_VISIBLE && apartOverNoise[i]! > DISAGREE ? 1 : 0));
  return findComponents({ width, height, data }).flatMap((thing): Detection[] => {
    const { cells } = thing;
    if (cells.length < MIN_CELLS || cells.length > LARGEST_THING * width * height) return [];
    const inside = new Set(cells);
    const parts = new Map<number, number>();
    for (const i of cells) parts.set(closest[i]!, (parts.get(closest[i]!) ?? 0) + 1);
    const shown = [...parts].filter(([, n]) => n >= LEAST_PART * cells.length).map(([k]) => k);
    if (shown.length < 2) return [];
    const border = cells.filter((i) =>
      [i + 1, i + width].some(
        (j) => inside.has(j) && closest[i] !== closest[j] && shown.includes(closest[i]!) && shown.includes(closest[j]!),
      ),
    );
    if (border.length < LEAST_BORDER) return [];
    const plain = Math.sqrt(border.reduce((s, i) => s + apart[i]! ** 2, 0) / border.length);
    const stands = median(border.map((i) => apart[i]! / (texture[i]! + JUST_VISIBLE)));
    // In texture that differs from place to place anyway nobody sees where one frame ends.
    if (stands < STANDS_OUT) return [];
    const confidence = confidenceOf(plain, PLAIN);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'ghost',
        cells,
        ...placeComponent(thing, width),
        confidence,
        measurements: {
          cutLength: { value: 4 * border.length, unit: 'px' },
          framesApart: { value: 100 * plain, unit: '% of full scale' },
        },
        rms: plain,
      },
    ];
  });
}

export const ghost: Detector = {
  defect: 'ghost',
  kinds: ['panorama', 'bracket'],
  layers: [explanation, agreement],
  find: findGhosts,
  donorBy: 'detail',
  cause: ({ measurements, shown, donor }) =>
    measurements['cutLength']
      ? `Something moved between the frames, and the merge cuts through it: one part is from ${shown}, the rest from another frame. ${donor} has it whole.`
      : `Something moved between the frames, and the merge mixes them: no frame shows it like this. ${donor} has one moment of it.`,
  advice: 'Paint the whole thing from one frame, with a border where the frames agree.',
};
