// The application as a user starts it, in a data folder of its own.
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const CLI = fileURLToPath(new URL('../apps/server/bin/blendrak.js', import.meta.url));

export interface Application {
  readonly url: string;
  readonly pid: number;
  /** kill -9, as a power cut would. */
  kill(): Promise<void>;
  stop(): Promise<void>;
}

/** A temporary folder. */
export function temporaryFolder(): string {
  return mkdtempSync(join(tmpdir(), 'blendrak-e2e-'));
}

export function removeFolder(path: string): void {
  rmSync(path, { recursive: true, force: true });
}

/** Starts the application and waits for its one line; a demo makes jobs of two subjects. */
export async function start(
  command: 'serve' | 'demo',
  data: string,
  port: number,
  options: readonly string[] = [],
): Promise<Application> {
  const child = spawn(process.execPath, [CLI, command, '--read', tmpdir(), ...options], {
    env: {
      ...process.env,
      PORT: String(port),
      BLENDRAK_DATA: data,
      BLENDRAK_DEMO_WIDTH: '1200',
      BLENDRAK_PRACTICE_WIDTH: '700',
      BLENDRAK_PRACTICE_SEED: '4388',
      BLENDRAK_DEMO: 'lamp-room,gear-train',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const url = await new Promise<string>((ready, fail) => {
    child.stdout.on('data', (text: Buffer) => {
      const address = /Blendrak is ready at (\S+)/.exec(text.toString())?.[1];
      if (address) ready(address);
    });
    child.once('exit', (code) => fail(new Error(`the application ended with ${code}`)));
  });
  return {
    url,
    pid: child.pid!,
    kill: () => end(child, 'SIGKILL'),
    stop: () => end(child, 'SIGTERM'),
  };
}

/** Runs the command line to its end. */
export function runCli(args: readonly string[]): Promise<{ code: number; out: string; err: string }> {
  return new Promise((done) => {
    const child = spawn(process.execPath, [CLI, ...args], { stdio: 'pipe' });
    let [out, err] = ['', ''];
    child.stdout.on('data', (text: Buffer) => (out += text.toString()));
    child.stderr.on('data', (text: Buffer) => (err += text.toString()));
    child.once('exit', (code) => done({ code: code ?? -1, out, err }));
  });
}

function end(child: ChildProcess, signal: NodeJS.Signals): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((done) => {
    child.once('exit', () => done());
    child.kill(signal);
  });
}

/** Asks the interface of the application until the answer satisfies. */
export async function until<T>(read: () => Promise<T>, done: (value: T) => boolean, timeoutMs = 280_000): Promise<T> {
  const end = Date.now() + timeoutMs;
  for (;;) {
    const value = await read().catch(() => undefined);
    if (value !== undefined && done(value)) return value;
    if (Date.now() > end)
      throw new Error(`waited ${timeoutMs} ms in vain; last: ${JSON.stringify(value)?.slice(0, 400)}`);
    await new Promise((wait) => setTimeout(wait, 300));
  }
}
