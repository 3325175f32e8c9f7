// The picture a perfect merge of the set would show, in the geometry of its canvas.
import type { Region } from '@blendrak/core/image';
import { CORRECTED } from '../optics/lens';
import { castRow, makeRayRow, projectRow } from '../optics/view';
import { vignetteAt } from '../optics/lens';
import { layerAreaPx, layerMap } from '../render/layerMap';
import { paintLayer } from '../render/paintLayer';
import type { Exposure, Light } from '../render/stage';
import { lightOf, type Shot } from '../render/takeFrame';
import { skyShare, type SetPlan } from '../shoot/planSet';
import { isLevelled, mergeTone, shotOf } from './placeFrame';

/** The perfect picture of a region, and what the world holds there. */
export interface Ideal {
  /** Interleaved RGB code values of the merge. */
  readonly rgb: Float32Array;
  /** The same with the lateral colour that the files still carry. */
  readonly fringed: Float32Array | null;
  readonly depthMm: Float32Array;
  /** Brightest channel's light at the exposure of the darkest shot: 1 and above is clipped in every frame. */
  readonly leastExposed: Float32Array;
}

/** Renders the ideal: all sharp, without noise, at the set's reference time. */
export function idealMerge(plan: SetPlan, region: Region): Ideal {
  const shot = idealShot(plan);
  const light = lightOf(plan.stage, shot, region);
  const { lateralColour } = plan.shots[0]!.lens;
  const carries = plan.assignment.settings.uncorrected && !isLevelled(plan);
  const fringed = carries
    ? codes(plan, lightOf(plan.stage, { ...shot, lens: { ...shot.lens, lateralColour } }, region))
    : null;
  const darkest = Math.min(...plan.shots.map((s) => s.gain));
  const leastExposed = light.r.map((r, i) => Math.max(r, light.g[i]!, light.b[i]!) * darkest);
  return { rgb: codes(plan, light), fringed, depthMm: light.depthMm, leastExposed };
}

function idealShot(plan: SetPlan): Shot {
  const first = plan.shots[0]!;
  return {
    ...first,
    lens: { ...first.lens, ...CORRECTED },
    view: plan.canvas,
    focusMm: null,
    startS: plan.referenceS,
    shutterS: 0,
    shakePx: [0, 0],
  };
}

function codes(plan: SetPlan, light: Light): Float32Array {
  const { region } = light;
  const tone = mergeTone(plan.kind);
  const { vignetting } = plan.shots[0]!.lens;
  const dimmed = vignetting !== 0 && !isLevelled(plan);
  const { canvas } = plan;
  const half = canvas.halfDiagonalPx;
  const sky = skyOf(plan, region);
  const rgb = new Float32Array(region.width * region.height * 3);
  for (let y = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++) {
      const i = y * region.width + x;
      const px = region.x + x + 0.5 - canvas.principal[0];
      const py = region.y + y + 0.5 - canvas.principal[1];
      const k = dimmed ? vignetteAt(vignetting, Math.hypot(px, py) / half) : 1;
      for (let c = 0; c < 3; c++) {
        const v = (c === 0 ? light.r : c === 1 ? light.g : light.b)[i]! * k;
        let code = tone(v);
        if (sky) code += sky.share[i]! * (tone(v * sky.gain) - code);
        rgb[3 * i + c] = code;
      }
    }
  }
  return rgb;
}

/** Where the canvas shows a frame that was blended with a darker sky: its share by pixel. */
function skyOf(plan: SetPlan, region: Region): { share: Float32Array; gain: number } | null {
  const frame = plan.frames.findIndex((f) => f.sky !== null);
  if (frame < 0) return null;
  const { view } = shotOf(plan, frame);
  const gain = 2 ** plan.shots[plan.frames[frame]!.sky!]!.intendedEv;
  const rays = makeRayRow(region.width);
  const px = new Float64Array(region.width);
  const py = new Float64Array(region.width);
  const share = new Float32Array(region.width * region.height);
  for (let y = 0; y < region.height; y++) {
    castRow(plan.canvas, region.y + y + 0.5, region.x, 1, region.width, rays);
    projectRow(view, rays, region.width, px, py);
    for (let x = 0; x < region.width; x++) {
      share[y * region.width + x] = Number.isNaN(py[x]!) ? 0 : skyShare(view.height, py[x]!);
    }
  }
  return { share, gain };
}

/** Things that move and can be caught twice, at the time of a shot. */
export interface MovingThings {
  /** Coverage of each pixel, 0..1. */
  readonly cover: Float32Array;
  /** Distance of the thing seen there, mm; 0 where there is none. */
  readonly depthMm: Float32Array;
}

/** What moving things cover of a region in a shot, the nearer before the farther. */
export function movingThings(plan: SetPlan, shot: number, region: Region): MovingThings {
  const { startS, shutterS, lens } = plan.shots[shot]!;
  const exposure: Exposure = { view: plan.canvas, lens, focusMm: null, startS, shutterS };
  const cover = new Float32Array(region.width * region.height);
  const depthMm = new Float32Array(cover.length);
  for (const layer of plan.stage.world.layers) {
    if (layer.motion?.kind !== 'object') continue;
    const area = layerAreaPx(plan.stage, plan.canvas, layer, region, 0);
    if (!area) continue;
    const open = { any: true, across: 1, size: 1 << 20, flags: new Uint8Array([1]) };
    const painted = paintLayer(plan.stage, exposure, layer, layerMap(plan.stage, plan.canvas, layer), area, 1, open);
    for (let y = 0; y < painted.height; y++) {
      for (let x = 0; x < painted.width; x++) {
        const i = (painted.y + y - region.y) * region.width + painted.x + x - region.x;
        const own = painted.a[y * painted.width + x]!;
        cover[i] = Math.max(cover[i]!, own);
        if (own > 0.5) depthMm[i] = 1 / layer.plane.at;
      }
    }
  }
  return { cover, depthMm };
}
