// What browsers have and jsdom lacks, for tests of components.
const { TextDecoder, TextEncoder } = require('node:util');

if (typeof window !== 'undefined') {
  globalThis.TextEncoder ??= TextEncoder;
  globalThis.TextDecoder ??= TextDecoder;
}
