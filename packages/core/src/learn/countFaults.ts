// What goes wrong how often: findings of many jobs counted by defect, in groups of jobs that were shot alike.
import { wilson, type ShareInterval } from './wilson';

/** What is known of a job that was inspected. */
export interface JobFacts {
  readonly id: string;
  readonly name: string;
  readonly kind: 'focus-stack' | 'panorama' | 'bracket';
  readonly createdAt: string;
  readonly frames: number;
  readonly camera: string | null;
  readonly lens: string | null;
  readonly fNumber: number | null;
  /** On what it was shot, where and in what light; empty where nobody has said. */
  readonly support: string;
  readonly place: string;
  readonly light: string;
  /** Its findings that are defects, by defect and what became of them. */
  readonly findings: readonly {
    readonly defect: string;
    readonly decision: string;
    readonly count: number;
    /** Of focus gaps: how many lie beyond the ends of the series. */
    readonly beyondEnd: number;
  }[];
}

export type Grouping = 'kind' | 'lens' | 'aperture' | 'frames' | 'step' | 'support' | 'place' | 'light';

export interface FaultCell {
  readonly defect: string;
  readonly jobs: number;
  readonly findings: number;
  readonly repaired: number;
  readonly reshot: number;
  readonly share: ShareInterval;
  readonly jobIds: readonly string[];
}

export interface FaultGroup {
  readonly name: string;
  readonly jobs: number;
  readonly cells: readonly FaultCell[];
}

const UNKNOWN = 'not known';

/** Groups by how many frames a set has: a few, a dozen, many. */
function frameGroup(frames: number): string {
  if (frames <= 3) return '2 to 3 frames';
  if (frames <= 7) return '4 to 7 frames';
  if (frames <= 20) return '8 to 20 frames';
  return 'more than 20 frames';
}

/** What people said, however they wrote it. */
function said(words: string): string {
  return words === '' ? UNKNOWN : words.toLowerCase();
}

const GROUP_NAMES: Record<Grouping, (job: JobFacts) => string> = {
  kind: ({ kind }) => kind.replace('-', ' '),
  lens: ({ lens }) => lens ?? UNKNOWN,
  aperture: ({ fNumber }) => (fNumber === null ? UNKNOWN : `f/${Number(fNumber.toFixed(1))}`),
  frames: ({ frames }) => frameGroup(frames),
  support: ({ support }) => said(support),
  place: ({ place }) => said(place),
  light: ({ light }) => said(light),
  step: ({ kind, frames }) => `${kind.replace('-', ' ')}, ${frameGroup(frames)}`,
};

/**
 * Counts what goes wrong.
 * @param jobs that were inspected
 * @returns groups with most jobs first, in each the defects that most jobs have first
 */
export function countFaults(jobs: readonly JobFacts[], grouping: Grouping): FaultGroup[] {
  const groups = new Map<string, JobFacts[]>();
  for (const job of jobs) {
    const name = GROUP_NAMES[grouping](job);
    const known = groups.get(name);
    if (known) known.push(job);
    else groups.set(name, [job]);
  }
  return [...groups]
    .map(([name, members]) => ({ name, jobs: members.length, cells: cellsOf(members) }))
    .sort((a, b) => b.jobs - a.jobs || a.name.localeCompare(b.name));
}

function cellsOf(jobs: readonly JobFacts[]): FaultCell[] {
  const defects = [...new Set(jobs.flatMap((job) => job.findings.map((f) => f.defect)))];
  return defects
    .map((defect): FaultCell => {
      const having = jobs.filter((job) => job.findings.some((f) => f.defect === defect));
      const findings = jobs.flatMap((job) => job.findings.filter((f) => f.defect === defect));
      const count = (decision?: string): number =>
        findings.filter((f) => decision === undefined || f.decision === decision).reduce((sum, f) => sum + f.count, 0);
      return {
        defect,
        jobs: having.length,
        findings: count(),
        repaired: count('repaired'),
        reshot: count('reshoot'),
        share: wilson(having.length, jobs.length),
        jobIds: having.map((job) => job.id),
      };
    })
    .sort((a, b) => b.jobs - a.jobs || b.findings - a.findings);
}
