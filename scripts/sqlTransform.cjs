// SQL files as text modules in unit tests.
module.exports = {
  process: (text) => ({ code: `module.exports = ${JSON.stringify(text)};` }),
};
