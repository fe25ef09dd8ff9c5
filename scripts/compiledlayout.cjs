const { LineCounter, parseDocument } = require('yaml');

/** A layout that ships with the program as a module: its content, and the line of each kind. Reading YAML would take a quarter of what a small command takes. */
function compiledLayout(text) {
  const counter = new LineCounter();
  const document = parseDocument(text, { lineCounter: counter });
  if (document.errors.length > 0) throw document.errors[0];
  // Our own file: it may use one list of kinds in as many places as it likes.
  const json = document.toJS({ maxAliasCount: -1 });
  // Rules that several kinds share are a list in their lists.
  for (const kind of json.kinds) for (const rules of ['codecs', 'references']) if (kind[rules]) kind[rules] = kind[rules].flat();
  const lines = Object.fromEntries(json.kinds.map(({ id }, i) => [id, counter.linePos(document.getIn(['kinds', i], true).range[0]).line]));
  return `export default ${JSON.stringify({ json, lines })};`;
}

module.exports = { compiledLayout, process: (text) => ({ code: compiledLayout(text) }) };
