/** Files that the build takes in as text are text here too. */
module.exports = { process: (text) => ({ code: `export default ${JSON.stringify(text)};` }) };
