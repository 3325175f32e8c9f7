// After all tests: what scripts/sharedFolder.cjs made is removed.
const { rmSync } = require('node:fs');

module.exports = () => rmSync(process.env.BLENDRAK_TEST_SHARED, { recursive: true, force: true });
