// The journal: what was done on jobs, written by itself, with notes by hand; and what it adds up to.
import { z } from 'zod';
import { defectSchema, kindSchema } from './report';

export const journalKindSchema = z.enum([
  'made',
  'processed',
  'decided',
  'repaired',
  'waived',
  'signed',
  'reopened',
  'delivered',
  'removed',
  'note',
]);

export const journalEntrySchema = z.strictObject({
  id: z.number().int(),
  jobId: z.string(),
  jobName: z.string(),
  at: z.string(),
  kind: journalKindSchema,
  words: z.string(),
  /** Time that it took, where work took any, s. */
  tookS: z.number().nullable(),
});

/** What is looked for in the journal. */
export const journalQuerySchema = z.strictObject({
  text: z.string().max(200).default(''),
  jobId: z.string().optional(),
  kind: journalKindSchema.optional(),
  before: z.coerce.number().int().optional(),
  limit: z.coerce.number().int().min(1).max(10_000).default(200),
});

export const newNoteSchema = z.strictObject({ jobId: z.string(), words: z.string().trim().min(1).max(2000) });

/** A share with its interval: with few jobs it is wide. */
const shareSchema = z.strictObject({ low: z.number(), high: z.number() });

/** By what findings are counted. */
export const logGroupingSchema = z.enum(['kind', 'lens', 'aperture', 'frames', 'step', 'support', 'place', 'light']);

/** What went wrong in jobs of a group: in how many of them a defect was found, and how often by decision. */
export const logCellSchema = z.strictObject({
  defect: defectSchema,
  /** Jobs of the group that have it. */
  jobs: z.number().int(),
  findings: z.number().int(),
  repaired: z.number().int(),
  reshot: z.number().int(),
  /** Share of the group's jobs that have it (Wilson, 95 %). */
  share: shareSchema,
  jobIds: z.array(z.string()),
});

export const logGroupSchema = z.strictObject({
  name: z.string(),
  /** Jobs that were inspected. */
  jobs: z.number().int(),
  cells: z.array(logCellSchema),
});

/** A month: how many findings an inspected job had on average. */
export const logMonthSchema = z.strictObject({
  month: z.string(),
  jobs: z.number().int(),
  findings: z.number().int(),
});

export const logSchema = z.strictObject({
  grouping: logGroupingSchema,
  groups: z.array(logGroupSchema),
  months: z.array(logMonthSchema),
  /** Jobs that were inspected, and all there are. */
  inspected: z.number().int(),
  jobs: z.number().int(),
});

/** What can be told of bodies and lenses. */
export const calibratedSchema = z.enum(['breathing', 'vignetting', 'distortion', 'noise', 'dust']);

export const calibrationSchema = z.strictObject({
  /** Body and lens, as the files name them. */
  camera: z.string(),
  lens: z.string(),
  what: calibratedSchema,
  words: z.string(),
  value: z.number().nullable(),
  unit: z.string(),
  /** Spread over the jobs, in the same unit; null for one job. */
  spread: z.number().nullable(),
  jobs: z.array(z.strictObject({ id: z.string(), name: z.string() })),
  latest: z.string(),
  /** Whether the kit has it as it is now. */
  isTaken: z.boolean(),
});

/** Names a calibration that is to be taken over into the kit. */
export const takeCalibrationSchema = calibrationSchema.pick({ camera: true, lens: true, what: true, words: true });

/** Screens of a job, in the order of the work. */
export const stageSchema = z.enum(['frames', 'alignment', 'merge', 'bench', 'finish']);

/** Time that somebody spent on a job. */
export const timeSpentSchema = z.strictObject({
  stage: stageSchema,
  /** The finding that was open. */
  findingId: z.string().nullable(),
  seconds: z.number().positive().max(3600),
});

/** Where people's time went, over all jobs. */
export const timeLogSchema = z.strictObject({
  stages: z.array(z.strictObject({ stage: stageSchema, seconds: z.number(), jobs: z.number().int() })),
  defects: z.array(z.strictObject({ defect: defectSchema, seconds: z.number(), jobs: z.number().int() })),
});

export const logQuerySchema = z.strictObject({ by: logGroupingSchema.default('kind') });

/** What a lesson changes in a plan, by the plan's own fields. */
export const planChangeSchema = z.union([
  z.strictObject({ field: z.enum(['spare', 'usableEv']), add: z.number() }),
  z.strictObject({ field: z.enum(['overlap', 'settleS', 'edgeMargin']), atLeast: z.number() }),
]);

const lessonStateSchema = z.enum(['open', 'taken', 'refused']);

export const lessonChoiceSchema = z.strictObject({ state: lessonStateSchema });

export const lessonSchema = z.strictObject({
  id: z.string(),
  /** What happened, with the evidence. */
  words: z.string(),
  /** What to do next time. */
  advice: z.string(),
  kind: kindSchema,
  defect: defectSchema,
  jobs: z.array(z.strictObject({ id: z.string(), name: z.string() })),
  /** Null for what no plan can change. */
  change: planChangeSchema.nullable(),
  /** Open, taken into plans, or refused. */
  state: lessonStateSchema,
});

export type JournalKind = z.infer<typeof journalKindSchema>;
export type JournalEntry = z.infer<typeof journalEntrySchema>;
export type JournalQuery = z.infer<typeof journalQuerySchema>;
export type LogGrouping = z.infer<typeof logGroupingSchema>;
export type LogCell = z.infer<typeof logCellSchema>;
export type LogGroup = z.infer<typeof logGroupSchema>;
export type Log = z.infer<typeof logSchema>;
export type Calibration = z.infer<typeof calibrationSchema>;
export type CalibrationName = z.infer<typeof takeCalibrationSchema>;
export type Stage = z.infer<typeof stageSchema>;
export type TimeSpent = z.infer<typeof timeSpentSchema>;
export type TimeLog = z.infer<typeof timeLogSchema>;
export type Lesson = z.infer<typeof lessonSchema>;
