// A cut that is being tried: dragged, levelled or proposed, until it is kept.
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { Cut, Finish, Merge } from '@blendrak/contract';
import { api } from '../../shared/api';
import { aspectOf, type Shape } from './CutForm';
import type { useFinishWork } from './useFinish';

/** A line drawn as a level leans by no more than this: another was not meant as one. */
const MOST_LEAN_DEG = 20;

export function useCutDraft(merge: Merge, finish: Finish, keeping: ReturnType<typeof useFinishWork>['cut']) {
  const [draft, setDraft] = useState<Cut | null>(null);
  const [shape, setShape] = useState<readonly [Shape, string]>(['any', '3:1']);
  const [isDrawing, setDrawing] = useState(false);
  const cut = draft ?? finish.cut;
  const aspect = aspectOf(...shape);
  const proposal = useMutation({
    mutationFn: (turnDeg: number) => api.proposeCut(merge.id, { turnDeg, aspect }),
    onSuccess: (proposed) => setDraft(proposed.cut),
  });
  const isChanged = draft !== null && JSON.stringify(draft) !== JSON.stringify(finish.cut);
  return {
    cut,
    shape,
    aspect,
    isDrawing,
    isChanged,
    cost: isChanged && proposal.data?.cut === draft ? proposal.data.cost : costOfDraft(merge, cut, finish),
    error: proposal.error ?? keeping.error,
    choose: (next: Shape, own: string) => setShape([next, own]),
    propose: (turnDeg: number) => proposal.mutate(turnDeg),
    draw: () => setDrawing(!isDrawing),
    crop: (crop: Cut['crop']) => setDraft({ ...cut, crop }),
    level: (leanDeg: number) => {
      setDrawing(false);
      if (Math.abs(leanDeg) <= MOST_LEAN_DEG) proposal.mutate(Number((-leanDeg).toFixed(2)));
    },
    keep: () => keeping.mutate(cut, { onSuccess: () => setDraft(null) }),
    whole: () => {
      setDraft(null);
      keeping.mutate({ turnDeg: 0, crop: null });
    },
  };
}

/** The cost as it is known on the page: of the picture while the crop is dragged, of the subject once it is kept. */
function costOfDraft({ width, height }: Merge, { crop }: Cut, finish: Finish): Finish['cost'] {
  if (JSON.stringify(crop) === JSON.stringify(finish.cut.crop)) return finish.cost;
  return { ofPicture: crop ? 1 - (crop.width * crop.height) / (width * height) : 0, ofSubject: null };
}
