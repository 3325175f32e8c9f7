// Where unit tests find the built kernel module and the built worker: heavy work runs outside the test sandbox, in which
// every look-up of a global is slow.
const { join } = require('node:path');

process.env.BLENDRAK_KERNELS = join(__dirname, '../packages/core/build/kernels.wasm');
process.env.BLENDRAK_WORKER = join(__dirname, '../apps/server/dist/worker.js');
