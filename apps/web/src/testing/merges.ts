// A merge with findings, as pages get it: for tests of components.
import {
  alignmentOptionsSchema,
  mergeOptionsSchema,
  type Finding,
  type Merge,
  type MergeFacts,
  type NewOperation,
  type Operation,
} from '@blendrak/contract';
import type { BenchMerge, OperationList } from '../shared/queries';

/** What is known of a stack of four frames. */
export function stackFacts(): Extract<MergeFacts, { kind: 'focus-stack' }> {
  return {
    kind: 'focus-stack',
    failed: [],
    remarks: [],
    bendPx: null,
    model: 'similarity',
    borders: null,
    focus: { positions: [0, 1, 2, 3], source: 'breathing' },
  };
}

export function findingOf(id: string, part: Partial<Finding> = {}): Finding {
  return {
    id,
    mergeId: 'm1',
    defect: 'soft-patch',
    bbox: { x: 10, y: 20, width: 120, height: 80 },
    polygon: [
      [10, 20],
      [130, 20],
      [130, 100],
    ],
    severity: 62,
    confidence: 0.912,
    cause: 'The mask took b.jpg, which is soft here; d.jpg shows this place sharp.',
    advice: 'Paint it.',
    measurements: {},
    frames: [],
    donor: 3,
    gain: 2.04,
    repairable: true,
    decision: 'open',
    reason: '',
    recheck: '',
    byHand: false,
    sight: null,
    ...part,
  };
}

export function mergeOf(findings: readonly Finding[], part: Partial<BenchMerge> = {}): BenchMerge {
  return {
    id: 'm1',
    jobId: 'j1',
    jobName: 'Gears',
    kind: 'focus-stack',
    origin: 'own',
    fileName: 'merge.tif',
    width: 1200,
    height: 800,
    bits: 16,
    reference: 0,
    options: mergeOptionsSchema.parse({}),
    alignment: alignmentOptionsSchema.parse({}),
    facts: stackFacts(),
    lookedFor: ['halo', 'soft-patch', 'focus-gap'],
    leftToTheEye: ['seam'],
    maps: ['sharpness', 'risk'],
    frames: ['a.jpg', 'b.jpg', 'c.jpg', 'd.jpg'].map((fileName, k) => ({
      pictureId: `p${k}`,
      fileName,
      geometry: { model: 'similarity', toMerge: { re: 1, im: 0, tx: 0, ty: 0 } },
      tone: [
        [0, 1],
        [0, 1],
        [0, 1],
      ],
      grey: null,
      mix: null,
      residuals: [],
      scale: 1,
      shiftPx: [0, 0],
      rotationDeg: 0,
      residualPx: 0.1 * k,
      correlation: 1,
      coverage: 1,
      share: k === 2 ? 0 : 1 / 3,
    })),
    findings: [...findings],
    operations: [],
    sources: [],
    carried: null,
    ...part,
  };
}

/** A merge as the server describes it: without what pages ask for by itself. */
export function describedMergeOf(part: Partial<BenchMerge> = {}): Merge {
  const { operations: _operations, findings: _findings, sources: _sources, ...described } = mergeOf([], part);
  return described;
}

/** A stroke as a page asks for it. */
export function strokeOf(donor: number | null, points: [number, number][] = [[20, 20]], sizePx = 10): NewOperation {
  return { kind: 'paint', donor, shape: { kind: 'stroke', points, sizePx, hardness: 0.5, strength: 1 } };
}

/** An operation as the server has it. */
export function operationOf(id: string, order: number, part: Partial<Operation> = {}): Operation {
  return { ...strokeOf(0), id, order, revision: order, enabled: true, name: '', variant: '', mask: null, ...part };
}

/** Operations as of a revision, of a person who made all of them. */
export function listOf(items: readonly Operation[], redoable = 0): OperationList {
  return { revision: items.length, items, undoable: items.length, redoable };
}
