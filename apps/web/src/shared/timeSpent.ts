// How long somebody works at what: counted while the window is looked at and used, told to the server now and then.
import { useEffect } from 'react';
import type { Stage } from '@blendrak/contract';
import { json } from './api';

/** Who touches nothing for so long has gone away. */
const AWAY_MS = 60_000;
/** It is told every so often, and when the screen is left. */
const TELL_EVERY_MS = 30_000;
const TICK_MS = 1000;
/** Less than this was only passing by, s. */
const LEAST_S = 2;
const USES = ['pointermove', 'pointerdown', 'keydown', 'wheel'] as const;

/**
 * Counts time on a job.
 * @param job null: none is open
 * @param findingId that is open; null for none
 */
export function useTimeSpent(
  job: { readonly id: string; readonly stage: Stage } | null,
  findingId: string | null,
): void {
  const [jobId, stage] = [job?.id, job?.stage];
  useEffect(() => {
    if (jobId === undefined || stage === undefined) return;
    let [seconds, lastUse, lastTold] = [0, Date.now(), Date.now()];
    const use = (): void => {
      lastUse = Date.now();
    };
    const tell = (): void => {
      lastTold = Date.now();
      if (seconds < LEAST_S) return;
      const body = { stage, findingId, seconds };
      seconds = 0;
      // Time that cannot be told is not worth a message.
      fetch(`/api/jobs/${jobId}/time`, { ...json('POST', body), keepalive: true }).catch(() => undefined);
    };
    const tick = (): void => {
      if (document.visibilityState === 'visible' && Date.now() - lastUse < AWAY_MS) seconds += TICK_MS / 1000;
      if (Date.now() - lastTold >= TELL_EVERY_MS) tell();
    };
    const timer = window.setInterval(tick, TICK_MS);
    for (const name of USES) window.addEventListener(name, use, { passive: true });
    window.addEventListener('pagehide', tell);
    return () => {
      window.clearInterval(timer);
      for (const name of USES) window.removeEventListener(name, use);
      window.removeEventListener('pagehide', tell);
      tell();
    };
  }, [jobId, stage, findingId]);
}
