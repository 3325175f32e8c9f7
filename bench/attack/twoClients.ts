// Two people at one merge: whatever order their strokes, undos and redos come in, no acknowledged stroke is lost for good.
import { randomBytes } from 'node:crypto';
import { painting, type Client, type OperationsAnswer } from './client';
import type { Row } from './table';

export async function attackByTwo(
  client: Client,
  mergeId: string,
  steps: number,
  random: () => number,
): Promise<Row[]> {
  const painted = new Set<string>();
  const newId = (): string => randomBytes(8).toString('hex');
  const change = (body: object): Promise<unknown> => client.send('POST', `/api/merges/${mergeId}/changes`, body);
  const again = (): Promise<unknown> => change({ id: newId(), change: { kind: 'redo' } });
  const step = async (): Promise<void> => {
    const dice = random();
    if (dice < 0.25) await change({ id: newId(), change: { kind: 'undo' } });
    else if (dice < 0.45) await again();
    else {
      const id = newId();
      await change(painting(id, 0, [[random() * 500, random() * 400]], 10));
      painted.add(id);
    }
  };
  const person = async (): Promise<void> => {
    for (let k = 0; k < steps; k++) await step();
  };
  await Promise.all([person(), person()]);
  for (let k = 0; k <= painted.size; k++) await again();
  const { changed } = await client.get<OperationsAnswer>(`/api/merges/${mergeId}/operations`);
  const kept = new Set(changed.map((o) => o.id));
  const lost = [...painted].filter((id) => !kept.has(id)).length;
  return [
    {
      what: `two people, ${2 * steps} steps on one merge, all brought back`,
      result: `${painted.size} strokes, ${lost} lost`,
      good: lost === 0,
    },
  ];
}
