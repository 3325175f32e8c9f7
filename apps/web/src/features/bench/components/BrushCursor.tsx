// The brush's outline under the pointer: where it is full, and where it ends.
import { useEffect, useState } from 'react';
import type { DeepView } from '../../../viewer/deepView';
import { useBench } from '../store';

export function BrushCursor({ deep }: { deep: DeepView | null }) {
  const { pointer, brush } = useBench();
  const [, redraw] = useState(0);
  useEffect(() => deep?.onChange(() => redraw((n) => n + 1)), [deep]);
  if (!deep || !pointer) return null;
  const view = deep.view();
  const x = (pointer.x - view.originX) * view.zoom;
  const y = (pointer.y - view.originY) * view.zoom;
  const r = (brush.sizePx / 2) * view.zoom;
  return (
    <svg
      aria-hidden="true"
      style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}
    >
      {/* Dark under light: seen on any tone. */}
      <circle cx={x} cy={y} r={r} fill="none" stroke="#000" strokeWidth={2.5} strokeOpacity={0.6} />
      <circle cx={x} cy={y} r={r} fill="none" stroke="#fff" strokeWidth={1} />
      <circle
        cx={x}
        cy={y}
        r={Math.max(0.5, r * brush.hardness)}
        fill="none"
        stroke="#fff"
        strokeWidth={1}
        strokeDasharray="2 4"
      />
    </svg>
  );
}
