// The kernel module in this thread.
import { readFileSync } from 'node:fs';
import { openKernels, type KernelExports, type Kernels } from '@blendrak/core/kernels';

let opened: Kernels | null = null;

/** Kernels of this thread, opened once: the first call on fresh memory is slow. */
export function threadKernels(): Kernels {
  if (opened) return opened;
  // Beside the bundle; tests, which run from source, name the built module.
  const bytes = readFileSync(process.env['BLENDRAK_KERNELS'] ?? new URL('./kernels.wasm', import.meta.url));
  const memory = new WebAssembly.Memory({ initial: 16, maximum: 65536 });
  const abort = (): never => {
    throw new Error('a kernel aborted');
  };
  const instance = new WebAssembly.Instance(new WebAssembly.Module(bytes), { env: { memory, abort } });
  opened = openKernels({ memory, exports: instance.exports as unknown as KernelExports });
  return opened;
}
