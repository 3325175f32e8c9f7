// Table `job_plans`: the plan of a job as it was when attached.
import { planSheetSchema, type JobPlan, type PlanSheetRecord } from '@blendrak/contract';
import type { Db } from '../openDatabase';

interface JobPlanRow {
  readonly plan_id: string;
  readonly name: string;
  readonly sheet: string;
}

export function jobPlansTable(db: Db) {
  const put = db.prepare<[string, string, string, string]>(
    'INSERT INTO job_plans (job_id, plan_id, name, sheet) VALUES (?, ?, ?, ?) ' +
      'ON CONFLICT(job_id) DO UPDATE SET plan_id = excluded.plan_id, name = excluded.name, sheet = excluded.sheet',
  );
  const one = db.prepare<[string], JobPlanRow>('SELECT plan_id, name, sheet FROM job_plans WHERE job_id = ?');
  const remove = db.prepare<[string]>('DELETE FROM job_plans WHERE job_id = ?');
  return {
    put: (jobId: string, planId: string, name: string, sheet: PlanSheetRecord) =>
      put.run(jobId, planId, name, JSON.stringify(sheet)),
    find: (jobId: string): JobPlan['plan'] => {
      const row = one.get(jobId);
      return row ? { planId: row.plan_id, name: row.name, sheet: planSheetSchema.parse(JSON.parse(row.sheet)) } : null;
    },
    remove: (jobId: string) => remove.run(jobId),
  };
}
