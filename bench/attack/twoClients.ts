// Two people at one merge: whatever order their strokes, undos and redos come in, no acknowledged stroke is lost for good.
import { randomBytes } from 'node:crypto';
import type { Client, StrokesAnswer } from './client';
import type { Row } from './table';

export async function attackByTwo(
  client: Client,
  mergeId: string,
  steps: number,
  random: () => number,
): Promise<Row[]> {
  const painted = new Map<string, number>();
  const strokes = (): Promise<StrokesAnswer> => client.get(`/api/merges/${mergeId}/strokes`);
  const step = async (): Promise<void> => {
    const dice = random();
    if (dice < 0.25) await client.send('POST', `/api/merges/${mergeId}/undo`);
    else if (dice < 0.45) await client.send('POST', `/api/merges/${mergeId}/redo`);
    else {
      const id = randomBytes(8).toString('hex');
      // Each stroke is known again by its size, also after it came back under another id.
      const sizePx = 10 + painted.size * 0.25;
      painted.set(id, sizePx);
      const stroke = { frame: 0, points: [[random() * 500, random() * 400]], sizePx, hardness: 1, strength: 1 };
      await client.send('POST', `/api/merges/${mergeId}/strokes`, { id, stroke });
    }
  };
  const person = async (): Promise<void> => {
    for (let k = 0; k < steps; k++) await step();
  };
  await Promise.all([person(), person()]);
  const { changed } = await strokes();
  const kept = new Set(changed.map((s) => s.sizePx));
  const lost = [...painted.values()].filter((size) => !kept.has(size)).length;
  for (let k = 0; k <= painted.size; k++) await client.send('POST', `/api/merges/${mergeId}/redo`);
  const all = (await strokes()).changed.filter((s) => !s.undone).length;
  return [
    {
      what: `two people, ${2 * steps} steps on one merge`,
      result: `${painted.size} strokes, ${lost} lost`,
      good: lost === 0,
    },
    {
      what: 'strokes in force after all are brought back',
      result: `${all} of ${painted.size}`,
      good: all === painted.size,
    },
  ];
}
