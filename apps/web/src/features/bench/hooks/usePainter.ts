// The brush as a small state machine: idle → drawing → idle; the secondary button pans meanwhile.
import { useEffect, useRef, type RefObject } from 'react';
import type { Merge } from '@blendrak/contract';
import { tileUrl } from '../../../shared/api';
import type { DeepView, ViewState } from '../../../viewer/deepView';
import { clearPreview, startLivePreview, type LivePreview } from '../../../viewer/livePreview';
import { useBench } from '../store';
import { newId } from '../../../shared/newId';

type Point = [number, number];

interface DonorView {
  readonly key: string;
  readonly canvas: HTMLCanvasElement;
}

/** Makes the brush paint while a donor is in hand; draws its outline under the pointer. */
export function usePainter(host: RefObject<HTMLDivElement | null>, deep: DeepView | null, merge: Merge): void {
  const donor = useBench((s) => s.donor);
  const donorView = useRef<DonorView | null>(null);

  useEffect(() => {
    deep?.setDragging(donor === null);
  }, [deep, donor]);

  const { id: mergeId, width, height } = merge;
  // The donor as it looks in the current view is fetched whenever the view has come to rest.
  useEffect(() => {
    if (!deep || donor === null) return;
    let timer = 0;
    const load = (): void => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => {
        void fetchDonor(deep, { id: mergeId, width, height }, donor).then((view) => {
          donorView.current = view;
        });
      }, 60);
    };
    load();
    const stop = deep.onChange(load);
    return () => {
      window.clearTimeout(timer);
      stop();
      donorView.current = null;
    };
  }, [deep, donor, height, mergeId, width]);

  useEffect(() => {
    const element = host.current;
    if (!deep || donor === null || !element) return;
    // What becomes of the merge meanwhile (a stroke acknowledged, a finding looked at again) does not end a stroke.
    return bindPointer(element, deep, mergeId, donor, donorView);
  }, [deep, donor, host, mergeId]);
}

function bindPointer(
  element: HTMLElement,
  deep: DeepView,
  mergeId: string,
  donor: number,
  donorView: RefObject<DonorView | null>,
): () => void {
  let drawing: { points: Point[]; preview: LivePreview | null } | null = null;
  let panning: Point | null = null;

  const toPicture = (event: PointerEvent): Point => {
    const view = deep.view();
    const box = element.getBoundingClientRect();
    return [
      view.originX + (event.clientX - box.left) / view.zoom,
      view.originY + (event.clientY - box.top) / view.zoom,
    ];
  };
  const down = (event: PointerEvent): void => {
    if (event.button === 2 || event.button === 1) {
      panning = [event.clientX, event.clientY];
    } else if (event.button === 0) {
      const view = deep.view();
      const state = useBench.getState();
      state.set({ look: { kind: 'repaired' }, drawing: true });
      const ready = donorView.current?.key === keyOf(view, donor) ? donorView.current.canvas : null;
      drawing = {
        points: [toPicture(event)],
        preview: ready ? startLivePreview(deep, view, ready, state.brush) : null,
      };
      drawing.preview?.extend(drawing.points);
    } else return;
    event.preventDefault();
    event.stopPropagation();
    element.setPointerCapture(event.pointerId);
  };
  const move = (event: PointerEvent): void => {
    if (panning) {
      deep.panBy(event.clientX - panning[0], event.clientY - panning[1]);
      panning = [event.clientX, event.clientY];
    }
    if (!drawing) return;
    event.stopPropagation();
    const [x, y] = toPicture(event);
    useBench.getState().set({ pointer: { x, y } });
    const last = drawing.points[drawing.points.length - 1]!;
    const batch = event.getCoalescedEvents().length > 0 ? event.getCoalescedEvents() : [event];
    const fresh = batch.map(toPicture).filter((p) => Math.hypot(p[0] - last[0], p[1] - last[1]) > 0.5);
    if (fresh.length === 0) return;
    drawing.points.push(...fresh);
    drawing.preview?.extend([last, ...fresh]);
  };
  const up = (event: PointerEvent): void => {
    panning = null;
    if (!drawing) return;
    event.stopPropagation();
    const { brush: now, enqueue } = useBench.getState();
    const points = drawing.points.map(([x, y]): Point => [Math.round(x * 100) / 100, Math.round(y * 100) / 100]);
    enqueue({ id: newId(), mergeId, stroke: { frame: donor, points, ...now } });
    drawing = null;
    useBench.getState().set({ drawing: false });
  };
  /** What was begun is given up: nothing of it was kept, and nothing of it stays on the screen. */
  const giveUp = (): void => {
    panning = null;
    if (!drawing) return;
    drawing = null;
    useBench.getState().set({ drawing: false });
    clearPreview(deep);
  };
  const quiet = (event: Event): void => event.preventDefault();
  element.addEventListener('pointerdown', down, true);
  element.addEventListener('pointermove', move, true);
  element.addEventListener('pointerup', up, true);
  element.addEventListener('pointercancel', giveUp, true);
  element.addEventListener('contextmenu', quiet);
  return () => {
    giveUp();
    element.removeEventListener('pointerdown', down, true);
    element.removeEventListener('pointermove', move, true);
    element.removeEventListener('pointerup', up, true);
    element.removeEventListener('pointercancel', giveUp, true);
    element.removeEventListener('contextmenu', quiet);
  };
}

function keyOf(view: ViewState, donor: number): string {
  return [donor, view.originX.toFixed(2), view.originY.toFixed(2), view.zoom.toFixed(4), view.width, view.height].join(
    ':',
  );
}

/** The donor frame drawn to the size of the view. */
async function fetchDonor(
  deep: DeepView,
  merge: Pick<Merge, 'id' | 'width' | 'height'>,
  donor: number,
): Promise<DonorView | null> {
  const view = deep.view();
  const x = Math.max(0, Math.floor(view.originX));
  const y = Math.max(0, Math.floor(view.originY));
  const right = Math.min(merge.width, Math.ceil(view.originX + view.width / view.zoom));
  const bottom = Math.min(merge.height, Math.ceil(view.originY + view.height / view.zoom));
  if (right <= x || bottom <= y) return null;
  const ratio = window.devicePixelRatio;
  const region = { x, y, width: right - x, height: bottom - y };
  const scale = Math.min(1, view.zoom * ratio, 4096 / Math.max(region.width, region.height));
  const size = `${Math.max(1, Math.round(region.width * scale))},${Math.max(1, Math.round(region.height * scale))}`;
  const image = new Image();
  image.src = tileUrl(`f-${merge.id}-${donor}`, region, size, 0);
  await image.decode();
  const canvas = document.createElement('canvas');
  Object.assign(canvas, { width: Math.round(view.width * ratio), height: Math.round(view.height * ratio) });
  const unit = view.zoom * ratio;
  canvas
    .getContext('2d')!
    .drawImage(image, (x - view.originX) * unit, (y - view.originY) * unit, region.width * unit, region.height * unit);
  return { key: keyOf(view, donor), canvas };
}
