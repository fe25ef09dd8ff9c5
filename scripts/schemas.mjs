#!/usr/bin/env node
// npm run schemas: writes docs/schemas/*.json and docs/protocol/openapi.yaml from the schemas that the program itself checks with.
// With --check it writes nothing and ends with 1 where a file is not up to date.
import { build } from 'esbuild';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { stringify } from 'yaml';
import * as z from 'zod';
import { root, setUp } from './setup.mjs';
import { openapi } from './openapi.mjs';

setUp();
const bundled = join(root, 'bench', 'work', 'protocol.mjs');
await build({ absWorkingDir: root, stdin: { contents: "export * from './src/protocol/index.ts'; export { Config } from './src/jobs/config.ts'; export { RouteFile } from './src/jobs/routefile.ts'; export { ComparisonJson } from './src/report/comparisonjson.ts'; export { About } from './src/pochette/format.ts'; export { Layout } from './src/sites/database/layout/schema.ts';", resolveDir: root }, bundle: true, platform: 'node', format: 'esm', packages: 'external', outfile: bundled });
const protocol = await import(pathToFileURL(bundled).href);
const schema = (type, io = 'output') => z.toJSONSchema(type, { io, target: 'draft-2020-12' });
const titled = (title, type) => JSON.stringify({ title, ...schema(type, 'input') }, null, 1) + '\n';

const files = {
  'docs/schemas/kind.schema.json': titled('A kind of items, as a site or a file describes it', protocol.KindDescription),
  'docs/schemas/config.schema.json': titled('pochette.yaml', protocol.Config),
  'docs/schemas/about.schema.json': titled('data/pochette.json of a pochette', protocol.About),
  'docs/schemas/route.schema.json': titled('A route that people read and edit', protocol.RouteFile),
  'docs/schemas/comparison.schema.json': JSON.stringify({ title: 'What "pochette compare --json" prints', ...schema(protocol.ComparisonJson) }, null, 1) + '\n',
  'docs/schemas/layout.schema.json': titled('Where a CMS keeps things in its database', protocol.Layout),
  'docs/protocol/openapi.yaml': '# Written by "npm run schemas": the schemas are those that the program checks with.\n' + stringify(openapi(protocol, schema), { lineWidth: 0, aliasDuplicateObjects: false }),
};
const check = process.argv.includes('--check');
for (const [name, text] of Object.entries(files)) {
  const path = join(root, name);
  if (existsSync(path) && readFileSync(path, 'utf8') === text) continue;
  if (!check) { writeFileSync(path, text); process.stdout.write(`written: ${name}\n`); continue; }
  process.stderr.write(`${name} is not up to date: run "npm run schemas"\n`);
  process.exitCode = 1;
}
