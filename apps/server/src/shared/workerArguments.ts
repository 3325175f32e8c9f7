// How worker threads are started, whatever pool they belong to.

const FLAG = '--no-experimental-require-module';

/**
 * Arguments of worker threads. Pools load a worker's file with `require` first; where Node lets that load modules, it does so without
 * giving way, and a thread that is ended meanwhile takes the whole process with it ("v8::Module::IsGraphAsync must be used on an
 * instantiated module"). Without that, `require` refuses at once, and the file is imported.
 */
export function workerArguments(): string[] {
  const isKnown = process.allowedNodeEnvironmentFlags.has('--experimental-require-module');
  return isKnown ? [...process.execArgv, FLAG] : [...process.execArgv];
}
