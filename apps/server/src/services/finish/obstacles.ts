// What stands against signing a merge: what nobody settled, looked at or kept up with.
import { createHash } from 'node:crypto';
import type { Finding, Obstacle, ViewingSettings } from '@blendrak/contract';
import { judgeFindings } from '@blendrak/core/inspect';
import { viewingOf } from '@blendrak/core/print';
import type { FinishBody, MergeBody } from '../../storage';
import type { Services } from '../context';

/** A short name of what something is made of. */
export function nameOf(parts: readonly (string | number)[]): string {
  return createHash('sha256').update(JSON.stringify(parts)).digest('hex').slice(0, 16);
}

/** Findings by defect in words: "2 halo, 1 soft patch". */
function countWords(findings: readonly Finding[]): string {
  const counts = new Map<string, number>();
  for (const { defect } of findings) counts.set(defect, (counts.get(defect) ?? 0) + 1);
  return [...counts].map(([defect, n]) => `${n} ${defect.replaceAll('-', ' ')}`).join(', ');
}

const plural = (n: number, one: string, many: string): string => (n === 1 ? `1 ${one}` : `${n} ${many}`);

/**
 * Lists what stands against a signature.
 * @param viewing how the picture will be looked at: open findings that are not seen so, or too unsure, stand against nothing
 */
export function obstaclesOf(
  { storage }: Pick<Services, 'storage'>,
  mergeId: string,
  jobId: string,
  body: MergeBody,
  viewing: ViewingSettings,
  { waivers }: Pick<FinishBody, 'waivers'>,
): Obstacle[] {
  const findings = storage.findings.listByMerge(mergeId);
  const { unseen: notSeen, unsure } = judgeFindings(findings, viewingOf(viewing, body), viewing.falseAlarms);
  const of = (decision: Finding['decision']): Finding[] => findings.filter((f) => f.decision === decision);
  const open = of('open').filter((f) => !notSeen.has(f) && !unsure.has(f));
  const accepted = of('accepted');
  const reshoot = of('reshoot');
  const ids = (list: readonly Finding[]): string => nameOf(list.map((f) => `${f.id} ${f.reason}`).sort());
  const found: Omit<Obstacle, 'waiver'>[] = [];
  if (open.length > 0)
    found.push({
      kind: 'open',
      words: `${plural(open.length, 'finding that shows is', 'findings that show are')} open: ${countWords(open)}.`,
      covers: ids(open),
    });
  if (reshoot.length > 0)
    found.push({
      kind: 'reshoot',
      words: `${plural(reshoot.length, 'finding asks', 'findings ask')} for a reshoot: ${countWords(reshoot)}.`,
      covers: ids(reshoot),
    });
  if (accepted.length > 0)
    found.push({
      kind: 'accepted',
      words: `${plural(accepted.length, 'finding was', 'findings were')} accepted: ${accepted.map((f) => `${f.defect.replaceAll('-', ' ')}, “${f.reason}”`).join('; ')}.`,
      covers: ids(accepted),
    });
  const unseen = unseenShare(storage.sweeps.find(mergeId));
  if (unseen > 0)
    found.push({
      kind: 'unseen',
      words: `${unseen >= 0.995 ? 'The picture' : `${Math.max(1, Math.round(100 * unseen))} % of the picture`} was never looked at at full size.`,
      // Only less of it is unseen later.
      covers: 'unseen',
    });
  const stale = staleWords(storage, jobId, body);
  if (stale !== null) found.push({ kind: 'stale', words: stale, covers: nameOf([stale]) });
  return found.map((obstacle) => {
    const waived = waivers.find((w) => w.kind === obstacle.kind && w.covers === obstacle.covers);
    return { ...obstacle, waiver: waived ? { reason: waived.reason, by: waived.by, at: waived.at } : null };
  });
}

/** Share of the squares that nobody looked at at full size. */
export function unseenShare(seen: Uint8Array | undefined): number {
  if (!seen || seen.length === 0) return 1;
  return seen.filter((v) => v === 0).length / seen.length;
}

/** How the job's frames have changed since the merge was made, in words; null where they have not. */
function staleWords(storage: Services['storage'], jobId: string, body: MergeBody): string | null {
  const frames = storage.pictures.listByJob(jobId).filter((p) => p.role === 'frame' && p.status === 'ready');
  const merged = new Set(body.frames.map((f) => f.pictureId));
  const added = frames.filter((f) => !merged.has(f.id)).map((f) => f.file_name);
  const kept = new Set(frames.map((f) => f.id));
  const gone = body.frames.filter((f) => !kept.has(f.pictureId)).map((f) => f.fileName);
  const renewed = frames.filter((f) => {
    const link = storage.linkedFrames.find(f.id);
    if (!link) return false;
    const head = storage.merges.headOf(link.source_job_id);
    return head?.id !== link.merge_id || head.revision !== link.revision;
  });
  const parts = [
    added.length > 0 && `${added.join(', ')} came after the merge`,
    gone.length > 0 && `${gone.join(', ')} was taken out after it`,
    renewed.length > 0 && `${renewed.map((f) => f.file_name).join(', ')} has changed where it was made`,
  ].filter((part) => part !== false);
  return parts.length > 0 ? `The merge is older than its frames: ${parts.join('; ')}.` : null;
}
