// What the command line prints: progress as words or JSON lines, errors as one line, exit codes.
import { InputError } from '../codecs';

export const EXIT = { clean: 0, findings: 1, unusable: 2 } as const;

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
