// Words of an alignment, and that every choice is one the server takes.
import { alignmentOptionsSchema, type Merge } from '@blendrak/contract';
import { alignedWords, BENDS, MODELS, subjectKind, SUBJECTS, withSubject } from './alignmentSettings';
import { stackFacts } from '../../testing/merges';

const shapes = [{ kind: 'brush' as const, points: [[0.5, 0.5] as [number, number]], radius: 0.1 }];
const facts = stackFacts();
const merge = (over: Partial<Merge>): Merge =>
  ({
    alignment: alignmentOptionsSchema.parse({}),
    frames: [{ pictureId: 'a', fileName: 'frame01.jpg' }],
    facts,
    ...over,
  }) as Merge;

it('offers what the server takes', () => {
  for (const [model] of MODELS)
    for (const [bend] of BENDS)
      expect(alignmentOptionsSchema.safeParse({ model, bendPx: Number(bend) }).success).toBe(true);
});

it('knows each kind of subject again that it makes', () => {
  for (const [kind] of SUBJECTS) {
    const made = withSubject(kind, 'a');
    expect(subjectKind(kind === 'area' ? { ...made, shapes } : made)).toBe(kind);
  }
});

it('refuses a subject that is an area and a sharp part at once', () => {
  expect(alignmentOptionsSchema.safeParse({ subject: { shapes, sharpOf: 'a' } }).success).toBe(false);
});

it('says on what and how frames were aligned', () => {
  expect(alignedWords(merge({}))).toBe('Aligned on the whole picture by shift, turn and scale.');
  const marked = alignmentOptionsSchema.parse({ subject: { shapes } });
  expect(alignedWords(merge({ alignment: marked, facts: { ...facts, model: 'homography' } }))).toBe(
    'Aligned on the marked subject by perspective maps.',
  );
  const sharp = alignmentOptionsSchema.parse({ subject: { sharpOf: 'a' } });
  expect(alignedWords(merge({ alignment: sharp, facts: { ...facts, model: 'similarity', bendPx: 0.816 } }))).toBe(
    'Aligned on what is sharp in frame01.jpg by shift, turn and scale. Local shifts bend straight lines by up to 0.82 px.',
  );
  const gone = alignmentOptionsSchema.parse({ subject: { sharpOf: 'z' } });
  expect(alignedWords(merge({ alignment: gone }))).toContain('a frame that is gone');
});
