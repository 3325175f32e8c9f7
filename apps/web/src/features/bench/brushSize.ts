// The brush's size, changed by keys and the wheel.
import { useBench } from './store';

const STEP = 1.2;
export const BRUSH_LIMITS = { least: 4, most: 600 } as const;

export function resizeBrush(to: 'smaller' | 'larger'): void {
  const { brush, set } = useBench.getState();
  const wanted = Math.round(brush.sizePx * (to === 'larger' ? STEP : 1 / STEP));
  set({ brush: { ...brush, sizePx: Math.min(BRUSH_LIMITS.most, Math.max(BRUSH_LIMITS.least, wanted)) } });
}
