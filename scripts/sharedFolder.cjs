// Before all tests: the folder of what several files of tests begin from (apps/server/src/testing/sharedFolder.ts).
const { mkdtempSync } = require('node:fs');
const { tmpdir } = require('node:os');
const { join } = require('node:path');

module.exports = () => {
  process.env.BLENDRAK_TEST_SHARED = mkdtempSync(join(tmpdir(), 'blendrak-shared-'));
};
