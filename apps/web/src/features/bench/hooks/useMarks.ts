// Marks of findings over the picture, and which frame is shown where.
import { useEffect, useState } from 'react';
import { tileUrl } from '../../../shared/api';
import { DEFECT_LOOKS } from '../../../shared/defects';
import type { BenchMerge } from '../../../shared/queries';
import type { DeepView } from '../../../viewer/deepView';
import { drawMarks, type RegionMark } from '../../../viewer/drawMarks';
import { inkFor } from '../../../viewer/ink';
import { drawMask } from '../operations/drawMask';
import { drawPins } from '../pins/drawPins';
import { usePins } from '../pins/usePins';
import { useBench } from '../store';
import { drawProvenance, useLabelMap } from './useLabelMap';

/** The ink of a merge: one that its picture does not contain. */
function useInk(mergeId: string): string {
  const [ink, setInk] = useState('#ffffff');
  useEffect(() => {
    void inkFor(tileUrl(`m-${mergeId}`, 'full', '!96,96', 0)).then(setInk);
  }, [mergeId]);
  return ink;
}

export function useMarks(deep: DeepView | null, { id, findings, operations }: BenchMerge): void {
  const pins = usePins(id);
  const openPin = useBench((s) => s.openPin);
  const showMarks = useBench((s) => s.showMarks);
  const showProvenance = useBench((s) => s.showProvenance);
  const openFinding = useBench((s) => s.openFinding);
  const ink = useInk(id);
  const labels = useLabelMap(showProvenance ? id : null);
  useEffect(() => {
    if (!deep || !labels) return;
    const drawing = deep.overlays.marks.add((context, camera) => drawProvenance(context, camera, labels, ink));
    return () => drawing.remove();
  }, [deep, ink, labels]);
  const masked = useBench((s) => s.masked);
  const operation = operations.find((o) => o.id === masked);
  useEffect(() => {
    if (!deep || !operation) return;
    const drawing = deep.overlays.marks.add((context, camera) => drawMask(context, camera, operation, ink));
    return () => drawing.remove();
  }, [deep, ink, operation]);
  useEffect(() => {
    if (!deep || !showMarks || pins.length === 0) return;
    const drawing = deep.overlays.marks.add((context, camera) => drawPins(context, camera, pins, openPin, ink));
    return () => drawing.remove();
  }, [deep, ink, openPin, pins, showMarks]);
  useEffect(() => {
    if (!deep || !showMarks) return;
    const visible = findings.filter((f) => f.decision === 'open' || f.id === openFinding);
    const marks = visible.map((f): RegionMark => {
      const style = DEFECT_LOOKS[f.defect].mark;
      return { polygon: f.polygon, box: f.bbox, style, strong: f.id === openFinding };
    });
    const drawing = deep.overlays.marks.add((context, camera) => drawMarks(context, camera, marks, ink));
    return () => drawing.remove();
  }, [deep, findings, ink, openFinding, showMarks]);
}
