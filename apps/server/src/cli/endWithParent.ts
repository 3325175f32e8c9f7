// A command that was started by the entry point ends with it.

const EVERY_MS = 500;

/**
 * Ends politely once the process that started this one, which says so in the environment, is gone: killed, it cannot pass that on.
 * Does nothing for a process that nobody claims.
 */
export function endWithParent(): void {
  const parent = Number(process.env['BLENDRAK_STARTED_BY'] ?? 0);
  if (!parent) return;
  // Not inherited: what this one starts has another parent.
  delete process.env['BLENDRAK_STARTED_BY'];
  setInterval(() => {
    if (process.ppid !== parent) process.kill(process.pid, 'SIGTERM');
  }, EVERY_MS).unref();
}
