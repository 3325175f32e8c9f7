// What browsers have and jsdom lacks, for tests of components.
const { TextDecoder, TextEncoder } = require('node:util');

if (typeof window !== 'undefined') Object.assign(globalThis, { TextDecoder, TextEncoder });

// jsdom reads every style sheet again at each question about an element. No test is about style, and nothing is laid out here.
const page = globalThis.document;
if (page) {
  const create = page.createElement.bind(page);
  page.createElement = (name, options) => {
    const element = create(name, options);
    if (name === 'style') element.setAttribute('type', 'text/plain');
    return element;
  };
}
