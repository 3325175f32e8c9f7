// What may be filled from the picture around it.
import type { DefectWord } from '@blendrak/contract';

/** Defects of which there is nothing to be had from frames: edges that none covers, and specks that lie on all. */
export const FILLABLE: ReadonlySet<DefectWord> = new Set(['border', 'dust']);
