// Table `time_spent`: how long people worked at what.
import { defectSchema, stageSchema, type DefectWord, type Stage } from '@blendrak/contract';
import type { Db } from '../openDatabase';

/** Time at a stage, or at a defect, with the jobs it went into. */
export interface TimeSum<Name> {
  readonly name: Name;
  readonly seconds: number;
  readonly jobs: number;
}

interface Row {
  readonly name: string;
  readonly seconds: number;
  readonly jobs: number;
}

export function timeSpentTable(db: Db) {
  const add = db.prepare<[string, string, string, number]>(
    `INSERT INTO time_spent (job_id, stage, defect, seconds) VALUES (?, ?, ?, ?)
     ON CONFLICT (job_id, stage, defect) DO UPDATE SET seconds = seconds + excluded.seconds`,
  );
  const sums = (column: 'stage' | 'defect') =>
    db.prepare<[], Row>(
      `SELECT ${column} AS name, sum(seconds) AS seconds, count(DISTINCT job_id) AS jobs FROM time_spent
       WHERE ${column} <> '' GROUP BY ${column} ORDER BY seconds DESC`,
    );
  const [byStage, byDefect] = [sums('stage'), sums('defect')];
  const ofJob = db.prepare<[string], Row>(
    'SELECT stage AS name, sum(seconds) AS seconds, 1 AS jobs FROM time_spent WHERE job_id = ? GROUP BY stage',
  );
  const stages = (rows: readonly Row[]): TimeSum<Stage>[] =>
    rows.map((row) => ({ ...row, name: stageSchema.parse(row.name) }));
  return {
    /** @param defect that was looked at; null for none */
    add: (jobId: string, stage: Stage, defect: DefectWord | null, seconds: number) =>
      add.run(jobId, stage, defect ?? '', seconds),
    /** By stage, the longest first. */
    byStage: () => stages(byStage.all()),
    ofJob: (jobId: string) => stages(ofJob.all(jobId)),
    /** By defect, the longest first. */
    byDefect: (): TimeSum<DefectWord>[] =>
      byDefect.all().map((row) => ({ ...row, name: defectSchema.parse(row.name) })),
  };
}
