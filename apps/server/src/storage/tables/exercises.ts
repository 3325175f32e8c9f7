// Tables `exercises` and `solutions`: jobs to practise on, and what came of them.
import { exerciseOrderSchema, solutionSchema, type ExerciseOrder, type Solution } from '@blendrak/contract';
import type { Db } from '../openDatabase';

export interface StoredSolution {
  readonly jobId: string;
  readonly at: string;
  readonly noises: number;
  readonly solution: Solution;
}

interface SolutionRow {
  readonly job_id: string;
  readonly at: string;
  readonly noises: number;
  readonly body: string;
}

export function exercisesTable(db: Db) {
  const insert = db.prepare<[string, string]>('INSERT INTO exercises (job_id, ordered) VALUES (?, ?)');
  const one = db.prepare<[string], { ordered: string }>('SELECT ordered FROM exercises WHERE job_id = ?');
  const ids = db.prepare<[], { job_id: string }>('SELECT job_id FROM exercises ORDER BY rowid DESC');
  const solve = db.prepare<[string, string, number, string]>(
    'INSERT INTO solutions (job_id, at, noises, body) VALUES (?, ?, ?, ?)',
  );
  const amend = db.prepare<[string, string]>('UPDATE solutions SET body = ? WHERE job_id = ?');
  const solution = db.prepare<[string], SolutionRow>('SELECT * FROM solutions WHERE job_id = ?');
  const solutions = db.prepare<[], SolutionRow>('SELECT * FROM solutions ORDER BY at, rowid');
  const toSolution = ({ job_id, at, noises, body }: SolutionRow): StoredSolution => ({
    ...{ jobId: job_id, at, noises },
    solution: solutionSchema.parse(JSON.parse(body)),
  });
  return {
    insert: (jobId: string, order: ExerciseOrder) => insert.run(jobId, JSON.stringify(order)),
    has: (jobId: string): boolean => one.get(jobId) !== undefined,
    orderOf(jobId: string): ExerciseOrder | undefined {
      const row = one.get(jobId);
      return row && exerciseOrderSchema.parse(JSON.parse(row.ordered));
    },
    /** Ids of the jobs, the newest first. */
    ids: (): string[] => ids.all().map((row) => row.job_id),
    solve: ({ jobId, at, noises, solution: made }: StoredSolution) =>
      solve.run(jobId, at, noises, JSON.stringify(made)),
    solutionOf(jobId: string): StoredSolution | undefined {
      const row = solution.get(jobId);
      return row && toSolution(row);
    },
    /** Writes what became of a solution since. */
    amend: (jobId: string, made: Solution) => amend.run(JSON.stringify(made), jobId),
    /** All that were ever solved, the oldest first. */
    solutions: (): StoredSolution[] => solutions.all().map(toSolution),
  };
}
