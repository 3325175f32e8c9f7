// ghost: something moved between the frames, and the merge shows it see-through, in pieces, or twice.
import { dilate, findComponents } from '../../image';
import { CELL_PX } from '../../kernels';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { agreement } from '../layers/agreement';
import { hasMoment, moments } from '../layers/moments';
import { DISAGREE, findStrangers } from '../strangers';

/** Things are smaller than this share of the picture; water, leaves and clouds are not things. */
const LARGEST_THING = 0.06;
/** Share of a thing that was found as a mixture already. */
const SAME_THING = 0.3;

function findGhosts(evidence: Evidence): Detection[] {
  const mixed = findStrangers(evidence)
    .filter((s) => !s.framesAgree)
    .map((s): Detection => ({ defect: 'ghost', ...s.detection }));
  // A thing that is mixed is not cut besides.
  const known = new Set(mixed.flatMap((d) => d.cells));
  const cuts = findCuts(evidence).filter(
    ({ cells }) => cells.filter((i) => known.has(i)).length < SAME_THING * cells.length,
  );
  return [...mixed, ...cuts];
}

/** Both sides of a tear lie within so many cells of each other … */
const TEAR_REACH = 4;
/** … in so many cells at least. */
const LEAST_TEAR = 6;

/**
 * Places where the merge surely shows one frame and not another, right beside places where it shows the other and not the one. Tones are
 * equalised place by place: exposures differ by more than what moves does.
 */
function findCuts(evidence: Evidence): Detection[] {
  const { width, height, picture } = evidence;
  const tear = markTears(evidence);
  const { apart, apartOverNoise } = evidence.of(agreement);
  const moves = Uint8Array.from(apart, (v, i) =>
    tear[i] || (v > JUST_VISIBLE && apartOverNoise[i]! > DISAGREE) ? 1 : 0,
  );
  const closed = dilate(dilate({ width, height, data: moves }, 1), -1);
  return findComponents(closed).flatMap((thing): Detection[] => {
    const torn = thing.cells.filter((i) => tear[i]);
    if (torn.length < LEAST_TEAR || thing.cells.length > LARGEST_THING * picture.width * picture.height) return [];
    const plain = Math.sqrt(torn.reduce((s, i) => s + apart[i]! ** 2, 0) / torn.length);
    const confidence = confidenceOf(plain, JUST_VISIBLE);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'ghost',
        cells: thing.cells,
        ...placeComponent(thing, width),
        confidence,
        measurements: {
          cutLength: { value: CELL_PX * extentOf(torn, width), unit: 'px' },
          framesApart: { value: 100 * plain, unit: '% of full scale' },
        },
        rms: plain,
      },
    ];
  });
}

/** Cells of both sides of tears. */
function markTears(evidence: Evidence): Uint8Array {
  const { width, height } = evidence;
  const { shown, not } = evidence.of(moments);
  const tear = new Uint8Array(shown.length);
  for (let i = 0; i < shown.length; i++) {
    if (!shown[i] || !not[i]) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let dy = 0; dy <= TEAR_REACH; dy++) {
      for (let dx = dy === 0 ? 1 : -TEAR_REACH; dx <= TEAR_REACH; dx++) {
        if (x + dx < 0 || x + dx >= width || y + dy >= height) continue;
        const j = i + dy * width + dx;
        if (!shown[j] || shown[j] === shown[i]) continue;
        if (hasMoment(not[i]!, shown[j]! - 1) && hasMoment(not[j]!, shown[i]! - 1)) tear[i] = tear[j] = 1;
      }
    }
  }
  return tear;
}

/** The longer side of the box around cells, cells. */
function extentOf(cells: readonly number[], width: number): number {
  const spread = (values: readonly number[]): number =>
    values.reduce((a, b) => Math.max(a, b)) - values.reduce((a, b) => Math.min(a, b)) + 1;
  return Math.max(spread(cells.map((i) => i % width)), spread(cells.map((i) => Math.floor(i / width))));
}

export const ghost: Detector = {
  defect: 'ghost',
  kinds: ['panorama', 'bracket'],
  layers: [agreement, moments],
  find: findGhosts,
  donorBy: 'moment',
  cause: ({ measurements, shown, donor }) =>
    measurements['cutLength']
      ? `Something moved between the frames, and the merge cuts through it: one part is from ${shown}, the rest from another frame. ${donor} has it whole.`
      : `Something moved between the frames, and the merge mixes them: no frame shows it like this. ${donor} has one moment of it.`,
  advice: 'Paint the whole thing from one frame, with a border where the frames agree.',
};
