// Lessons: what went wrong in earlier jobs, and what a plan like theirs should change.
import type { JobFacts } from './countFaults';

/** What a lesson changes in a plan; the names are those of the plan's fields. */
export type PlanChange =
  | { readonly field: 'spare' | 'usableEv'; readonly add: number }
  | { readonly field: 'overlap' | 'settleS' | 'edgeMargin'; readonly atLeast: number };

export interface DrawnLesson {
  /** The same lesson has the same name when more jobs speak for it. */
  readonly id: string;
  readonly kind: JobFacts['kind'];
  readonly defect: string;
  readonly words: string;
  readonly advice: string;
  /** Null for what no plan can change. */
  readonly change: PlanChange | null;
  readonly jobs: readonly { readonly id: string; readonly name: string }[];
}

interface Rule {
  readonly id: string;
  readonly kinds: readonly JobFacts['kind'][];
  readonly defect: string;
  /** How many findings of a job speak for it. */
  readonly counts: (finding: JobFacts['findings'][number]) => number;
  readonly what: string;
  readonly advice: string;
  readonly change: PlanChange | null;
  /** Jobs that have to speak for it; 1 when left out. */
  readonly least?: number;
}

const all = ({ count }: JobFacts['findings'][number]): number => count;

const RULES: readonly Rule[] = [
  {
    id: 'beyond-the-end',
    kinds: ['focus-stack'],
    defect: 'focus-gap',
    counts: (f) => f.beyondEnd,
    what: 'The series ended before the subject did',
    advice: 'Shoot one slice more beyond each end.',
    change: { field: 'spare', add: 1 },
  },
  {
    id: 'between-slices',
    kinds: ['focus-stack'],
    defect: 'focus-gap',
    counts: (f) => f.count - f.beyondEnd,
    what: 'Slices did not overlap: a band between two was sharp in none',
    advice: 'Let slices overlap by 30 % at least.',
    change: { field: 'overlap', atLeast: 0.3 },
  },
  {
    id: 'near-edges',
    kinds: ['focus-stack'],
    defect: 'halo',
    counts: all,
    what: 'Near edges spread their light over what lies behind',
    advice: 'Overlap more, so that a frame lies near every edge; leave time for the edges when retouching.',
    change: { field: 'overlap', atLeast: 0.4 },
    least: 2,
  },
  {
    id: 'shaken',
    kinds: ['focus-stack', 'panorama'],
    defect: 'soft-patch',
    counts: all,
    what: 'Parts were soft though another frame shows them sharp',
    advice: 'Wait 3 s after each move, so that vibration dies.',
    change: { field: 'settleS', atLeast: 3 },
    least: 2,
  },
  {
    id: 'parallax',
    kinds: ['panorama'],
    defect: 'misalignment',
    counts: all,
    what: 'Lines broke where frames meet',
    advice: 'Turn about the entrance pupil, and let frames overlap by 35 %.',
    change: { field: 'overlap', atLeast: 0.35 },
  },
  {
    id: 'moving',
    kinds: ['panorama', 'bracket'],
    defect: 'ghost',
    counts: all,
    what: 'Things moved between the frames',
    advice: 'Let frames overlap by 35 %, so that a moving thing can come from one; wait for a lull.',
    change: { field: 'overlap', atLeast: 0.35 },
  },
  {
    id: 'light',
    kinds: ['panorama'],
    defect: 'seam',
    counts: all,
    what: 'Tone stepped where frames meet',
    advice: 'Exposure and white balance by hand, and shoot faster than the light changes.',
    change: null,
  },
  {
    id: 'margin',
    kinds: ['panorama'],
    defect: 'border',
    counts: all,
    what: 'Edges were empty or smeared',
    advice: 'Shoot a twelfth wider all round.',
    change: { field: 'edgeMargin', atLeast: 0.08 },
  },
  {
    id: 'margin-stack',
    kinds: ['focus-stack', 'bracket'],
    defect: 'border',
    counts: all,
    what: 'Edges were empty or smeared',
    advice: 'Frame the subject wider: breathing and drift cost the edges.',
    change: null,
  },
  {
    id: 'burnt',
    kinds: ['bracket'],
    defect: 'clipping',
    counts: all,
    what: 'Bright parts were burnt in what the merge shows',
    advice: 'Count on one stop less of each frame, so that a darker one is shot.',
    change: { field: 'usableEv', add: -1 },
  },
  {
    id: 'dust',
    kinds: ['focus-stack', 'panorama', 'bracket'],
    defect: 'dust',
    counts: all,
    what: 'A speck lay on the sensor',
    advice: 'Clean the sensor before the next shoot.',
    change: null,
  },
];

/**
 * Draws lessons from jobs that were inspected.
 * @returns those for which most jobs speak first
 */
export function drawLessons(jobs: readonly JobFacts[]): DrawnLesson[] {
  const lessons: (DrawnLesson & { readonly weight: number })[] = [];
  for (const rule of RULES) {
    for (const kind of rule.kinds) {
      const of = jobs.filter((job) => job.kind === kind);
      const having = of.filter((job) => countOf(job, rule) > 0);
      if (having.length < (rule.least ?? 1)) continue;
      lessons.push({
        id: `${kind}:${rule.id}`,
        kind,
        defect: rule.defect,
        words: `${rule.what}, in ${having.length} of ${of.length} ${of.length === 1 ? 'job' : 'jobs'}${lensWords(having)}.`,
        advice: rule.advice,
        change: rule.change,
        jobs: having.map(({ id, name }) => ({ id, name })),
        weight: having.length / of.length + having.length,
      });
    }
  }
  return lessons.sort((a, b) => b.weight - a.weight).map(({ weight: _weight, ...lesson }) => lesson);
}

function countOf(job: JobFacts, rule: Rule): number {
  return job.findings.filter((f) => f.defect === rule.defect).reduce((sum, f) => sum + rule.counts(f), 0);
}

/** Names the lens where it was always the same. */
function lensWords(jobs: readonly JobFacts[]): string {
  const lenses = new Set(jobs.map((job) => job.lens));
  const [lens] = lenses;
  return lenses.size === 1 && lens !== null && jobs.length > 1 ? `, all with the ${lens}` : '';
}

/** What of a plan a lesson can change. */
type Changeable = Readonly<Partial<Record<PlanChange['field'], number>>>;

/**
 * Applies a lesson to a plan's request.
 * @returns the request as it should be, or the same one where it is so already or has no such field
 */
export function takeLesson<R extends Changeable>(request: R, change: PlanChange): R {
  const now: number | undefined = request[change.field];
  if (now === undefined) return request;
  const next = 'add' in change ? now + change.add : Math.max(now, change.atLeast);
  return next === now ? request : { ...request, [change.field]: next };
}
