// Pointer and keys on the picture: they move it, work with what is in hand, and rest on places for the trace strip.
import { useEffect, type RefObject } from 'react';
import { isOnPicture, panned, toPicture, toScreen, zoomed, type PictureSize, type Place } from '../../../viewer/camera';
import { drawCross } from '../../../viewer/drawTwice';
import { moveCross, type CrossStep } from '../../../viewer/cross';
import type { DeepView } from '../../../viewer/deepView';
import { bindPointer, type PointerEffect, type PointerSample } from '../../../viewer/pointer';
import type { Hover } from '../hover';
import { useBench } from '../store';
import { resizeBrush } from '../brushSize';
import { readyTool, type ToolWork } from './useToolWork';

const REST_MS = 110;
const GRID_PX = 16;
/** The keyboard's cross: its arms, and the width of their lines. */
const ARM_PX = 14;
const CROSS_PX = 1.6;

/** The trace strip is about places on a 16 px grid: a trembling hand asks for nothing new. */
function rest({ x, y }: Place): void {
  const grid = (v: number): number => Math.round(v / GRID_PX) * GRID_PX;
  const place = { x: grid(x), y: grid(y) };
  const now = useBench.getState().place;
  if (now?.x !== place.x || now.y !== place.y) useBench.getState().set({ place });
}

export function usePicturePointer(
  host: RefObject<HTMLDivElement | null>,
  deep: DeepView | null,
  hover: Hover,
  work: ToolWork,
  size: PictureSize,
): void {
  const { width, height } = size;
  useEffect(() => {
    const element = host.current;
    if (!deep || !element) return;
    const picture = { width, height };
    let timer = 0;
    /** Whether the cross leads, not a pointer. */
    let crossLeads = false;
    const drawing = deep.overlays.front.add((context, camera) => {
      const at = hover.at();
      if (!at) return;
      readyTool()?.draw(context, camera, at, useBench.getState().brush, work.draft());
      if (crossLeads) drawCross(context, toScreen(camera, at), ARM_PX, CROSS_PX);
    });
    const point = (at: Place | null): void => {
      window.clearTimeout(timer);
      hover.move(at && isOnPicture(picture, at) ? at : null);
      if (hover.at() && !work.isBusy()) timer = window.setTimeout(() => rest(at!), REST_MS);
      drawing.changed();
    };
    const inPicture = (sample: PointerSample) => ({ ...toPicture(deep.camera(), sample), pressure: sample.pressure });
    const on = (effect: PointerEffect): void => {
      switch (effect.kind) {
        case 'hover':
          crossLeads = false;
          point(toPicture(deep.camera(), effect.at));
          return;
        case 'begin':
          crossLeads = false;
          point(toPicture(deep.camera(), effect.samples.at(-1)!));
          work.begin(inPicture(effect.samples[0]!));
          return;
        case 'extend':
          work.extend(effect.samples.map(inPicture));
          return;
        case 'finish':
          work.finish();
          return;
        case 'giveUp':
          work.giveUp();
          return;
        case 'pan':
          deep.setCamera(panned(deep.camera(), effect.dx, effect.dy), 'at once');
          return;
        case 'zoom':
          deep.setCamera(zoomed(deep.camera('aim'), effect.factor, effect.about));
          return;
        case 'pinch': {
          const { dx, dy, factor, about } = effect;
          deep.setCamera(zoomed(panned(deep.camera(), dx, dy), factor, about), 'at once');
          return;
        }
        case 'tap': {
          const at = toPicture(deep.camera(), effect.at);
          if (isOnPicture(picture, at)) rest(at);
        }
      }
    };
    const unbind = bindPointer(element, {
      hasTool: work.isReady,
      on,
      leave: () => point(null),
      wheel: (event) => {
        if (!event.altKey || !work.isReady()) return false;
        resizeBrush(event.deltaY > 0 ? 'smaller' : 'larger');
        return true;
      },
    });
    const key = (event: KeyboardEvent): void => {
      const step: CrossStep | null = moveCross(event, hover.at(), deep.camera('aim'), picture);
      if (step?.kind === 'move') {
        crossLeads = true;
        if (step.camera) deep.setCamera(step.camera, 'at once');
        point(step.at);
        work.extend([{ ...step.at, pressure: 1 }]);
      } else if (step?.kind === 'press') {
        const at = step.at;
        crossLeads = true;
        point(at);
        if (work.isBusy()) work.finish();
        else if (work.isReady()) work.begin({ ...at, pressure: 1 });
        else rest(at);
      } else if (event.key === 'Escape' && work.draft() !== null) work.giveUp();
      else return;
      event.preventDefault();
    };
    element.addEventListener('keydown', key);
    // Brush and tool may change while the pointer rests.
    const stop = useBench.subscribe(({ brush, tool, donor }, before) => {
      if (brush !== before.brush || tool !== before.tool || donor !== before.donor) drawing.changed();
    });
    return () => {
      window.clearTimeout(timer);
      stop();
      unbind();
      work.giveUp();
      element.removeEventListener('keydown', key);
      drawing.remove();
    };
  }, [deep, height, host, hover, width, work]);
}
