// Which frame the merge shows where, as hatching whose direction and number tell the frame.
import { useEffect, useState } from 'react';
import type { Camera } from '../../../viewer/camera';

const CELL_PX = 4;

export interface LabelMap {
  readonly width: number;
  readonly height: number;
  /** Frame + 1 per cell, 0 for none of them. */
  readonly shown: Uint8Array;
}

/** Loads the label map of a merge; null while there is none to show. */
export function useLabelMap(mergeId: string | null): LabelMap | null {
  const [map, setMap] = useState<LabelMap | null>(null);
  useEffect(() => {
    setMap(null);
    if (!mergeId) return;
    let stale = false;
    const image = new Image();
    image.src = `/api/merges/${mergeId}/labels.png`;
    void image.decode().then(() => {
      const canvas = document.createElement('canvas');
      Object.assign(canvas, { width: image.naturalWidth, height: image.naturalHeight });
      const context = canvas.getContext('2d')!;
      context.drawImage(image, 0, 0);
      const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
      const shown = new Uint8Array(canvas.width * canvas.height);
      for (let i = 0; i < shown.length; i++) shown[i] = data[4 * i]!;
      if (!stale) setMap({ width: canvas.width, height: canvas.height, shown });
    });
    return () => {
      stale = true;
    };
  }, [mergeId]);
  return map;
}

const STEP = 12;

/** Hatches the view: strokes turn by frame, "none of them" gets crosses, and numbers stand at intervals. */
export function drawProvenance(context: CanvasRenderingContext2D, view: Camera, map: LabelMap, ink: string): void {
  context.strokeStyle = ink;
  context.fillStyle = ink;
  context.globalAlpha = 0.8;
  context.lineWidth = 1;
  context.setLineDash([]);
  context.font = '600 11px "JetBrains Mono Variable", monospace';
  context.textAlign = 'center';
  context.beginPath();
  for (let sy = STEP / 2; sy < view.height; sy += STEP) {
    for (let sx = STEP / 2; sx < view.width; sx += STEP) {
      const x = Math.floor((view.originX + sx / view.zoom) / CELL_PX);
      const y = Math.floor((view.originY + sy / view.zoom) / CELL_PX);
      if (x < 0 || y < 0 || x >= map.width || y >= map.height) continue;
      const label = map.shown[y * map.width + x]!;
      const numbered = Math.round(sx / STEP) % 8 === 4 && Math.round(sy / STEP) % 6 === 3;
      if (numbered) {
        context.fillText(label === 0 ? '?' : String(label), sx, sy + 4);
        continue;
      }
      const angles = label === 0 ? [Math.PI / 4, -Math.PI / 4] : [(label * Math.PI * 3) / 11];
      for (const angle of angles) {
        const dx = Math.cos(angle) * STEP * 0.32;
        const dy = Math.sin(angle) * STEP * 0.32;
        context.moveTo(sx - dx, sy - dy);
        context.lineTo(sx + dx, sy + dy);
      }
    }
  }
  context.stroke();
}
