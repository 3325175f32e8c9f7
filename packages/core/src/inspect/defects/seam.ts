// seam: tone or colour steps along a line, where no frame has a step.
import { dilate, findComponents, median } from '../../image';
import { confidenceOf, placeComponent, VISIBLE_SQUARED, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { agreement } from '../layers/agreement';
import { MERGE_KINDS } from '../layers/layer';
import { tone } from '../layers/tone';

/** Step that shows along a line, encoded: the error of tone that shows anywhere. */
const VISIBLE_STEP = Math.sqrt(VISIBLE_SQUARED);
/** Steps all over the picture are its finishing: a seam stands out of them by so much. */
const OVER_USUAL = 4;
/** Cells along the line; shorter ones are corners and specks. */
const LEAST_LENGTH = 14;
/** The outline keeps this close to the line, cells. */
const REACH = 2;
/** Panoramas are joined where two frames overlap: along this share of a line, within a few cells of it. */
const JOINED = 0.5;
const OVERLAP_REACH = 4;
/** Frames that differ among themselves by this share of a step cannot tell it. */
const DIFFERENT_MOMENTS = 0.4;
/** Pieces of a line that lie no farther apart than twice this are one: at corners no window holds one side only. */
const BRIDGE = 5;

function findSeams(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const { stepX, stepY, differenceX, differenceY } = evidence.of(tone);
  const threshold = Math.max(VISIBLE_STEP, OVER_USUAL * evidence.yardstick(tone).usual);
  const ridge = crests(stepX, stepY, width, 0.6 * threshold);
  // Frames of a stack differ by their blur.
  const apart = evidence.facts.kind === 'focus-stack' ? null : evidence.of(agreement).apart;
  const isJoinable = evidence.facts.kind === 'panorama' ? overlaps(evidence) : null;
  const band = dilate(dilate({ width, height, data: ridge }, BRIDGE), REACH - BRIDGE);
  return findComponents(band).flatMap((component): Detection[] => {
    const line = component.cells.filter((i) => ridge[i]);
    if (line.length < LEAST_LENGTH || Math.max(component.box.width, component.box.height) < LEAST_LENGTH) return [];
    if (isJoinable && line.filter((i) => isJoinable[i]).length < JOINED * line.length) return [];
    const typical = median(line.map((i) => Math.max(stepX[i]!, stepY[i]!)));
    const confidence = confidenceOf(typical, threshold);
    if (confidence < 0.5) return [];
    // Where frames differ by about as much among themselves, they show other moments, and say nothing of a join.
    if (apart && median(line.map((i) => apart[i]!)) > DIFFERENT_MOMENTS * typical) return [];
    return [
      {
        defect: 'seam',
        cells: component.cells,
        ...placeComponent(component, width),
        confidence,
        measurements: {
          step: { value: 100 * typical, unit: '% of full scale' },
          difference: {
            value: median(line.map((i) => (stepX[i]! >= stepY[i]! ? differenceX[i]! : differenceY[i]!))),
            unit: 'ΔE00',
          },
          length: { value: 4 * line.length, unit: 'px' },
        },
        rms: typical,
      },
    ];
  });
}

/** Cells at which or beside which more than one frame tells. */
function overlaps(evidence: Evidence): Uint8Array {
  const { width, height } = evidence;
  const data = Uint8Array.from(evidence.of(agreement).telling, (n) => (n > 1 ? 1 : 0));
  return dilate({ width, height, data }, OVERLAP_REACH).data;
}

/** Cells at which the step is largest across its line. */
function crests(stepX: Float32Array, stepY: Float32Array, width: number, threshold: number): Uint8Array {
  const ridge = new Uint8Array(stepX.length);
  for (let i = 0; i < ridge.length; i++) {
    const across = stepX[i]! >= stepY[i]!;
    const map = across ? stepX : stepY;
    const by = across ? 1 : width;
    const value = map[i]!;
    if (value < threshold) continue;
    let most = 0;
    for (let d = 1; d <= REACH; d++) most = Math.max(most, map[i - d * by] ?? 0, map[i + d * by] ?? 0);
    ridge[i] = value >= most ? 1 : 0;
  }
  return ridge;
}

export const seam: Detector = {
  defect: 'seam',
  kinds: MERGE_KINDS,
  layers: [tone, agreement],
  find: findSeams,
  isOfTone: true,
  donorBy: 'detail',
  cause: ({ shown }) =>
    `Tone or colour changes along a line where no frame has a step, ${shown} among them: the two sides were joined without evening them out.`,
  advice: 'Even the two sides out with a wide, soft mask across the line, from a frame that covers both.',
};
