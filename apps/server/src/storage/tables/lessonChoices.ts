// Table `lesson_choices`: lessons that were taken or refused.
import type { Lesson } from '@blendrak/contract';
import type { Db } from '../openDatabase';

type Choice = Exclude<Lesson['state'], 'open'>;

export function lessonChoicesTable(db: Db) {
  const all = db.prepare<[], { lesson_id: string; state: Choice }>('SELECT * FROM lesson_choices');
  const keep = db.prepare<[string, Choice]>(
    'INSERT INTO lesson_choices (lesson_id, state) VALUES (?, ?) ON CONFLICT (lesson_id) DO UPDATE SET state = excluded.state',
  );
  const forget = db.prepare<[string]>('DELETE FROM lesson_choices WHERE lesson_id = ?');
  return {
    all: (): ReadonlyMap<string, Choice> => new Map(all.all().map((row) => [row.lesson_id, row.state])),
    keep: (id: string, state: Lesson['state']) => (state === 'open' ? forget.run(id) : keep.run(id, state)),
  };
}
