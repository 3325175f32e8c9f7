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
    const timer = setInterval(() => (peakKb = Math.max(peakKb, peakOf(child.pid))), POLL_MS);
    child.once('error', fail);
    child.once('exit', (code) => {
      clearInterval(timer);
      done({ code: code ?? -1, seconds: (performance.now() - start) / 1000, peakMb: peakKb / 1024, err });
    });
  });
}

function peakOf(pid: number | undefined): number {
  try {
    return Number(/VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0);
  } catch (error) {
    // The process may end between two looks.
    if (error instanceof Error && 'code' in error && (error.code === 'ENOENT' || error.code === 'ESRCH')) return 0;
    throw error;
  }
}
