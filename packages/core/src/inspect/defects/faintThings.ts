// Ghosts that are shown whole, but faintly: a thing mixed with the even ground of another moment.
import { dilate, findComponents, median } from '../../image';
import { confidenceOf, JUST_VISIBLE, type Detection } from '../detection';
import type { Evidence } from '../detector';
import { agreement } from '../layers/agreement';
import { fading } from '../layers/fading';
import { DISAGREE } from '../strangers';
import { ghostOf } from './movedThing';

/** Forms are faint that keep less than this share of what is usual; a thing is a mixture where half of it keeps less than the other. */
const [FAINT, HALF_OF_IT] = [0.7, 0.55];
/** A mixture of two moments has so many cells … */
const LEAST_FAINT = 24;
/** … and lacks so much of what it would stand out by. */
const LACKING = 1.5 * JUST_VISIBLE;

/** Things that are shown whole but fainter than their frame has them, on ground that the frames do not agree on: mixed with another moment. */
export function findFaint(evidence: Evidence): Detection[] {
  const { width, height, facts } = evidence;
  // A bracket is toned from place to place: there less of a form is nothing by itself.
  const { usual } = facts.kind === 'panorama' ? evidence.yardstick(fading) : { usual: null };
  if (!usual) return [];
  const { gain, form } = evidence.of(fading);
  const { apart, apartOverNoise } = evidence.of(agreement);
  const lacking = (i: number): number => (usual.gain - gain[i]!) * form[i]!;
  const faint = Uint8Array.from(gain, (g, i) =>
    g > 0 &&
    g < FAINT * usual.gain &&
    lacking(i) > JUST_VISIBLE &&
    apart[i]! > JUST_VISIBLE &&
    apartOverNoise[i]! > DISAGREE
      ? 1
      : 0,
  );
  const closed = dilate(dilate({ width, height, data: faint }, 1), -1);
  return findComponents(closed).flatMap((component): Detection[] => {
    const cells = component.cells.filter((i) => faint[i]);
    if (cells.length < LEAST_FAINT) return [];
    const kept = median(cells.map((i) => gain[i]! / usual.gain));
    const rms = median(cells.map(lacking));
    const confidence = Math.min(confidenceOf(1 - kept, 1 - HALF_OF_IT), confidenceOf(rms, LACKING));
    const measurements = {
      shownStrength: { value: kept, unit: '1' },
      framesApart: { value: 100 * median(cells.map((i) => apart[i]!)), unit: '% of full scale' },
    };
    return ghostOf(component, width, { confidence, measurements, rms });
  });
}
