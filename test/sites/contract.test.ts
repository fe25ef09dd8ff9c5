import { mkdirSync, writeFileSync } from 'node:fs';
import { describe } from '@jest/globals';
import { compileKinds } from '../../src/core/kind.ts';
import { openDatabase } from '../../src/sites/database/open.ts';
import { FolderConnector } from '../../src/sites/folder/connector.ts';
import { HttpConnector } from '../../src/sites/http/connector.ts';
import { serve } from '../../src/sites/serve/server.ts';
import { contract } from '../helpers/contract.ts';
import { QUAYSIDE_LAYOUT, quayside, sqliteSite } from '../helpers/quayside.ts';
import { Bench } from '../helpers/sites.ts';

const board = { kind: 'quayside/board', value: (title: string) => ({ title, body: `<p>${title}</p>`, above: null, style: '{}', rows: [{ label: 'First', vessel: '1' }, { label: 'Second', vessel: null }], tags: ['1'] }) };

function databaseSite(bench: Bench) {
  sqliteSite(bench.path('site.db'), quayside('sqlite', 'dev', 'http://127.0.0.1:9', ''));
  writeFileSync(bench.path('quayside.yaml'), QUAYSIDE_LAYOUT);
  mkdirSync(bench.path('media'));
  return { name: 'site', url: 'sqlite:site.db', folder: bench.folder, layout: 'quayside.yaml', media: 'media' };
}

describe('the http connector on a simulated site', () => {
  contract(async () => {
    const bench = await new Bench().start('live');
    const { address, token } = bench.site('live');
    const [connector, other] = [new HttpConnector('live', address, token), new HttpConnector('live', address, token)];
    const value = (title: string) => ({ title, markup: `<p>${title}</p>`, layout: '{"bands":[]}', hero: 0, related: '' });
    return { connector, other, sample: { kind: 'tholepin/template', value }, async close() { await connector.close(); await other.close(); await bench.stop(); } };
  });
});

describe('the database connector', () => {
  contract(async () => {
    const bench = new Bench();
    const site = databaseSite(bench);
    const [connector, other] = [await openDatabase(site), await openDatabase(site)];
    return { connector, other, sample: board, async close() { await connector.close(); await other.close(); await bench.stop(); } };
  });
});

describe('the http connector on a served database', () => {
  contract(async () => {
    const bench = new Bench();
    const database = await openDatabase(databaseSite(bench));
    const served = await serve(database, { host: '127.0.0.1', port: 0, token: 'rope-and-tar', writable: true });
    const [connector, other] = [new HttpConnector('site', served.address, 'rope-and-tar'), new HttpConnector('site', served.address, 'rope-and-tar')];
    return { connector, other, sample: board, async close() { await connector.close(); await other.close(); await served.close(); await database.close(); await bench.stop(); } };
  });
});

describe('the folder connector', () => {
  contract(async () => {
    const bench = new Bench();
    const kinds = compileKinds([{ id: 'quayside/board', version: 1, title: 'Board' }], 'test');
    const open = (): FolderConnector => { const one = new FolderConnector('repo', 'folder:repo', bench.path('repo')); one.takeOver(kinds, { cms: { name: 'quayside', title: 'Quayside', version: '1' }, extensions: [], theme: { name: 'x', title: 'x', version: '1' } }); return one; };
    const [connector, other] = [open(), open()];
    const value = (title: string) => ({ title, above: { '@ref': 'board:front' }, body: '⟦site⟧/x' });
    await connector.batch([{ op: 'create', key: 'first', kind: 'quayside/board', name: 'Front', status: 'published', value: value('Front') }]);
    return { connector, other, sample: { kind: 'quayside/board', value }, async close() { await connector.close(); await other.close(); await bench.stop(); } };
  });
});
