const { createRequire } = require('node:module');
const { join } = require('node:path');
const { buildSync } = require('esbuild');
const { LineCounter, parseDocument } = require('yaml');

/** What checks a layout, made of the program's own source. */
let checker;
function checked(json) {
  if (!checker) {
    const entry = join(__dirname, '../src/sites/database/layout/schema.ts');
    const [{ text }] = buildSync({ entryPoints: [entry], bundle: true, platform: 'node', format: 'cjs', write: false, logLevel: 'warning' }).outputFiles;
    const module = { exports: {} };
    new Function('module', 'exports', 'require', text)(module, module.exports, createRequire(entry));
    checker = module.exports.Layout;
  }
  return checker.parse(json);
}

/** A layout that ships with the program as a module: its content as it was checked, and the line of each kind. Reading YAML and checking it would take a third of what a small command takes. */
function compiledLayout(text) {
  const counter = new LineCounter();
  const document = parseDocument(text, { lineCounter: counter });
  if (document.errors.length > 0) throw document.errors[0];
  // Our own file: it may use one list of kinds in as many places as it likes.
  const json = document.toJS({ maxAliasCount: -1 });
  // Rules that several kinds share are a list in their lists.
  for (const kind of json.kinds) for (const rules of ['codecs', 'references']) if (kind[rules]) kind[rules] = kind[rules].flat();
  const lines = Object.fromEntries(json.kinds.map(({ id }, i) => [id, counter.linePos(document.getIn(['kinds', i], true).range[0]).line]));
  return `export default { layout: JSON.parse(${JSON.stringify(JSON.stringify(checked(json)))}), lines: ${JSON.stringify(lines)} };`;
}

module.exports = { compiledLayout, process: (text) => ({ code: compiledLayout(text) }) };
