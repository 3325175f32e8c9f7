// What the command line prints: progress as words or JSON lines, errors as one line, exit codes.
import { InputError } from '../codecs';
import type { OnFirst } from '../pipeline';

export const EXIT = { clean: 0, findings: 1, unusable: 2 } as const;

/**
 * What a command that inspected leaves with.
 * @param failOver least visibility, 0..100, that counts as a finding; undefined for all
 * @throws InputError for what is no such number
 */
export function exitFor(severities: readonly number[], failOver: string | undefined): number {
  const least = failOver === undefined ? 0 : Number(failOver);
  if (failOver !== undefined && (failOver.trim() === '' || !(least >= 0 && least <= 100)))
    throw new InputError('--fail-over', `"${failOver}" cannot be used`, 'a visibility from 0 to 100');
  return severities.some((s) => s >= least) ? EXIT.findings : EXIT.clean;
}

/**
 * How many findings of a report may be expected to be nothing.
 * @returns undefined for no limit
 * @throws InputError for what is no such number
 */
export function falseAlarmsOf(given: string | undefined): number | undefined {
  if (given === undefined) return undefined;
  const most = Number(given);
  if (given.trim() === '' || !(most >= 0))
    throw new InputError('--false-alarms', `"${given}" cannot be used`, 'a number from 0, like 0.1 or 1');
  return most;
}

/** A printer of what a first look shows: as a JSON line; in words the progress says enough. */
export function firstPrinter(json: boolean): OnFirst {
  return ({ findings }) => {
    if (json) process.stdout.write(`${JSON.stringify({ step: 'inspect', first: findings })}\n`);
  };
}

/** A printer of progress for one command. */
export function progressPrinter(json: boolean): (step: string, share: number, message: string) => void {
  let last = '';
  return (step, share, message) => {
    if (json) {
      process.stdout.write(`${JSON.stringify({ step, progress: Number(share.toFixed(3)), message })}\n`);
      return;
    }
    if (!process.stderr.isTTY) return;
    const line = `${step}: ${message}`;
    if (line !== last) process.stderr.write(`\r\x1b[2K${line}`);
    last = line;
  };
}

/** One clear line on stderr for what went wrong; the exit code to leave with. */
export function reportFailure(error: unknown): number {
  const text =
    error instanceof InputError
      ? error.message
      : `unexpected error: ${error instanceof Error ? error.message : String(error)}`;
  process.stderr.write(`${process.stderr.isTTY ? '\r\x1b[2K' : ''}blendrak: ${text}\n`);
  if (!(error instanceof InputError) && process.env['BLENDRAK_DEBUG'] && error instanceof Error) {
    process.stderr.write(`${error.stack ?? ''}\n`);
  }
  return EXIT.unusable;
}
