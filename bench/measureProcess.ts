// Wall time and peak memory of a command, as the system counts them.
import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';

export interface MeasuredProcess {
  readonly code: number;
  readonly seconds: number;
  /** Peak resident memory, MB; 0 where the system does not say. */
  readonly peakMb: number;
  readonly err: string;
}

const POLL_MS = 40;

/** Runs a command to its end. */
export function measureProcess(command: string, args: readonly string[]): Promise<MeasuredProcess> {
  return new Promise((done, fail) => {
    const start = performance.now();
    const child = spawn(command, args, { stdio: ['ignore', 'ignore', 'pipe'] });
    let [peakKb, err] = [0, ''];
    child.stderr.on('data', (text: Buffer) => (err += text.toString()));
    const timer = setInterval(() => (peakKb = Math.max(peakKb, memoryKb(child.pid, 'VmHWM'))), POLL_MS);
    child.once('error', fail);
    child.once('exit', (code) => {
      clearInterval(timer);
      done({ code: code ?? -1, seconds: (performance.now() - start) / 1000, peakMb: peakKb / 1024, err });
    });
  });
}

/**
 * Memory of a process and those it started, kB, as Linux tells it; 0 once it is gone.
 * @param field VmRSS: resident now; VmHWM: the most so far
 */
export function memoryKb(pid: number | undefined, field: 'VmRSS' | 'VmHWM'): number {
  try {
    const own = Number(
      new RegExp(`${field}:\\s+(\\d+) kB`).exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0,
    );
    const started = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').split(' ').filter(Boolean);
    return started.reduce((sum, child) => sum + memoryKb(Number(child), field), own);
  } catch (error) {
    // The process may end between two looks.
    if (error instanceof Error && 'code' in error && (error.code === 'ENOENT' || error.code === 'ESRCH')) return 0;
    throw error;
  }
}
