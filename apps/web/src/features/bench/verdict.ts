// How a merge stands, in a few words.
import type { BenchMerge } from '../../shared/queries';

/** Visibility from which a finding is plain at 100 %. */
const PLAIN = 50;

/** What is to be done about a merge, most pressing first. */
export function verdictOf({ findings, lookedFor }: Pick<BenchMerge, 'findings' | 'lookedFor'>): string {
  if (lookedFor.length === 0) return 'Not inspected';
  const open = findings.filter((f) => f.decision === 'open');
  const lost = open.filter((f) => !f.repairable && f.severity >= PLAIN).length;
  const plain = open.filter((f) => f.repairable && f.severity >= PLAIN).length;
  const reshoot = findings.some((f) => f.decision === 'reshoot');
  if (lost > 0) return `${lost} plain ${lost === 1 ? 'defect' : 'defects'} that no frame repairs`;
  if (plain > 0) return `${plain} plain ${plain === 1 ? 'defect' : 'defects'} to repair`;
  if (open.length > 0) return `${open.length} faint ${open.length === 1 ? 'finding' : 'findings'} to settle`;
  if (reshoot) return 'To be shot again';
  return findings.length === 0 ? 'Nothing found' : 'All findings are settled';
}
