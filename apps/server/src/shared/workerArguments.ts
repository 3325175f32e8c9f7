// How worker threads are started, whatever pool they belong to.

const FLAG = '--no-experimental-require-module';

/**
 * Arguments of worker threads. Pools load a worker's file with `require` first; where Node lets that load modules, it does so without
 * giving way, and a thread that is ended meanwhile takes the whole process with it ("v8::Module::IsGraphAsync must be used on an
 * instantiated module"). Without that, `require` refuses at once, and the file is imported. What the process itself was started with is
 * not handed on: flags of the engine hold for all threads anyway, and a thread refuses to be given them.
 */
export function workerArguments(): string[] {
  return process.allowedNodeEnvironmentFlags.has('--experimental-require-module') ? [FLAG] : [];
}
