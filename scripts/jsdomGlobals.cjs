// What browsers have and jsdom lacks, for tests of components.
const { TextDecoder, TextEncoder } = require('node:util');

if (typeof window !== 'undefined') Object.assign(globalThis, { TextDecoder, TextEncoder });
