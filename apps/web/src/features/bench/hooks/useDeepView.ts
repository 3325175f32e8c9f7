// The viewer inside the bench: which picture it shows, and the marks on it.
import { useEffect, useState, type RefObject } from 'react';
import { tileUrl } from '../../../shared/api';
import { DEFECT_LOOKS } from '../../../shared/defects';
import type { PaintedMerge } from '../../../shared/queries';
import { createDeepView, type DeepView, type PictureRegion } from '../../../viewer/deepView';
import { drawMarks } from '../../../viewer/drawMarks';
import { inkFor } from '../../../viewer/ink';
import { clearPreview } from '../../../viewer/livePreview';
import { useBench, type Look } from '../store';
import { strokeAt } from '../strokeAt';
import { drawProvenance, useLabelMap } from './useLabelMap';

const NO_STROKES: PaintedMerge['strokes'] = [];

export function useDeepView(host: RefObject<HTMLDivElement | null>, merge: PaintedMerge): DeepView | null {
  const [deep, setDeep] = useState<DeepView | null>(null);
  const look = useBench((s) => s.peek ?? s.look);
  const showMarks = useBench((s) => s.showMarks);
  const showProvenance = useBench((s) => s.showProvenance);
  const openFinding = useBench((s) => s.openFinding);
  const { id, width, height, strokes } = merge;
  const [ink, setInk] = useState('#ffffff');
  const labels = useLabelMap(showProvenance ? id : null);

  useEffect(() => {
    const view = createDeepView(host.current!);
    setDeep(view);
    return () => view.destroy();
  }, [host]);

  useEffect(() => {
    void inkFor(tileUrl(`m-${id}`, 'full', '!96,96', 0)).then(setInk);
  }, [id]);

  const shown = pictureOf(look, id);
  // The query cache keeps the list itself while no stroke changes: other news of the merge loads nothing again.
  const painted = shown === `r-${id}` ? strokes : NO_STROKES;
  useEffect(() => {
    if (!deep) return;
    const versionAt = (region: PictureRegion, scale: number): string => strokeAt(painted, region, scale);
    deep.show({ id: shown, versionAt, width, height });
    // The preview of the last strokes stands until the picture with them is there.
    // Strokes that are being painted or are not there yet are in no picture that has been loaded.
    return deep.onLoaded(() => {
      const { drawing, pending } = useBench.getState();
      if (!drawing && !pending.some((p) => p.mergeId === id)) clearPreview(deep);
    });
  }, [deep, id, shown, painted, width, height]);

  // It lies over the screen, not over the picture: when that moves, it is wrong.
  useEffect(() => deep?.onMoved(() => clearPreview(deep)), [deep]);

  const findings = merge.findings;
  useEffect(() => {
    if (!deep) return;
    const draw = (): void => {
      const visible = showMarks ? findings.filter((f) => f.decision === 'open' || f.id === openFinding) : [];
      drawMarks(
        deep.marks,
        deep.view(),
        visible.map((f) => ({
          polygon: f.polygon,
          box: f.bbox,
          style: DEFECT_LOOKS[f.defect].mark,
          strong: f.id === openFinding,
        })),
        ink,
      );
      if (labels) drawProvenance(deep.marks, deep.view(), labels, ink);
    };
    draw();
    return deep.onChange(draw);
  }, [deep, findings, ink, labels, openFinding, showMarks]);

  return deep;
}

function pictureOf(look: Look, mergeId: string): string {
  if (look.kind === 'before') return `m-${mergeId}`;
  if (look.kind === 'frame') return `f-${mergeId}-${look.frame}`;
  return `r-${mergeId}`;
}
