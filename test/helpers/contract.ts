import { createHash } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { makeAddress } from '../../src/core/address.ts';
import { byCodeUnit } from '../../src/core/json.ts';
import { compileKinds } from '../../src/core/kind.ts';
import { itemKey, type IndexRow, type LocalItem } from '../../src/core/siteindex.ts';
import type { Answer, Connector, Operation } from '../../src/sites/connector.ts';

export interface Subject {
  /** Two connectors to one site: the second one is someone else. */
  readonly connector: Connector;
  readonly other: Connector;
  /** An item that the site takes, by name, and a change of it. */
  readonly sample: { readonly kind: string; readonly value: (title: string) => unknown };
  close(): Promise<void>;
}

async function all<T>(stream: AsyncIterable<T>): Promise<T[]> {
  const list: T[] = [];
  for await (const one of stream) list.push(one);
  return list;
}

/** What every connector has to keep to, whatever it speaks to. */
export function contract(open: () => Promise<Subject>): void {
  let subject: Subject;
  let connector: Connector;
  let count = 0;
  const key = (): string => `contract-${process.pid}-${++count}`;
  const one = async (operation: Operation): Promise<Answer> => (await connector.batch([operation]))[0] as Answer;
  const create = (name: string, title = name): Operation => ({ op: 'create', key: key(), kind: subject.sample.kind, name, status: 'published', value: subject.sample.value(title) });
  const read = async (id: Answer['id']): Promise<LocalItem | undefined> => (await all(connector.read([{ kind: subject.sample.kind, id: id ?? '' }])))[0];
  beforeAll(async () => { subject = await open(); ({ connector } = subject); });
  afterAll(async () => { await subject.close(); });

  test('facts and kinds are valid', async () => {
    const facts = await connector.facts();
    expect(new URL(facts.site.address).protocol).toMatch(/^https?:$/);
    expect(facts.rights).toContain('write');
    expect(compileKinds(await connector.kinds(), 'test').has(subject.sample.kind)).toBe(true);
  });

  test('the index is in the order of addresses, where that is asked for; the items are the same with their values', async () => {
    const kinds = compileKinds(await connector.kinds(), 'test');
    const index = await all(connector.index({ sorted: true }));
    expect(new Set(await all(connector.index()))).toEqual(new Set(index));
    const addresses = index.map((row) => makeAddress(kinds.get(row.kind)?.short ?? '', row.name));
    expect(addresses).toEqual([...new Set(addresses)].sort(byCodeUnit));
    const items = await all(connector.items());
    expect(items.map(({ value: _value, created: _created, ...row }): IndexRow => row)).toEqual(index);
    expect(items.every((item) => typeof item.value === 'object')).toBe(true);
  });

  test('items are read in the order asked for, and those that are not there are passed over', async () => {
    const index = await all(connector.index());
    const keys = [...index].reverse().slice(0, 5).map(({ kind, id }) => ({ kind, id }));
    const found = await all(connector.read([...keys.slice(0, 2), { kind: subject.sample.kind, id: 987_654_321 }, ...keys.slice(2)]));
    expect(found.map(itemKey)).toEqual(keys.map(itemKey));
  });

  test('the writer\'s lock is for one', async () => {
    const wish = { owner: 'Isbel Farrow', run: 'contract', seconds: 60 };
    await connector.lock(wish);
    await expect(subject.other.lock({ ...wish, owner: 'someone else' })).rejects.toMatchObject({ code: 'blocked' });
    await connector.lock(wish);
  });

  test('create tells id, name and etag; sent again with the same key it is not done again', async () => {
    const operation = create('contract-one');
    const answer = await one(operation);
    expect(answer).toMatchObject({ status: 201, name: 'contract-one' });
    expect(await one(operation)).toMatchObject({ id: answer.id, etag: answer.etag });
    const rows = (await all(connector.index())).filter((row) => row.kind === subject.sample.kind && row.name.startsWith('contract-one'));
    expect(rows).toEqual([expect.objectContaining({ id: answer.id, etag: answer.etag })]);
  });

  test('what is made has the day of where it comes from, where the site keeps one; it stays when it is written', async () => {
    const made = await one({ ...create('contract-old'), created: '2025-05-04T03:02:01.000Z' } as Operation);
    const there = await read(made.id);
    expect(there?.created).toBe('2025-05-04T03:02:01.000Z');
    await one({ op: 'update', key: key(), kind: subject.sample.kind, id: made.id ?? '', ifMatch: there?.etag ?? '', value: subject.sample.value('Newer') });
    expect((await read(made.id))?.created).toBe('2025-05-04T03:02:01.000Z');
    // Nobody says when: it is now, or nothing is said of it.
    const { created = new Date().toISOString() } = await read((await one(create('contract-new'))).id) ?? {};
    expect(Math.abs(Date.now() - Date.parse(created))).toBeLessThan(60_000);
  });

  test('an update wants the etag of what it replaces', async () => {
    const made = await one(create('contract-two'));
    const id = made.id ?? '';
    const update = (ifMatch: string, title: string): Operation => ({ op: 'update', key: key(), kind: subject.sample.kind, id, ifMatch, value: subject.sample.value(title) });
    expect(await one(update('"never"', 'Wrong'))).toMatchObject({ status: 412, problem: { status: 412 } });
    const answer = await one(update(made.etag ?? '', 'Right'));
    expect(answer.status).toBe(200);
    expect(answer.etag).not.toBe(made.etag);
    expect(JSON.stringify((await read(id))?.value)).toContain('Right');
    expect(await one(update(made.etag ?? '', 'Late'))).toMatchObject({ status: 412 });
  });

  test('after a refusal nothing more is done', async () => {
    const operations = [create('contract-three'), { op: 'delete', key: key(), kind: subject.sample.kind, id: 987_654_321, ifMatch: '"x"' } as const, create('contract-four')];
    const answers = await connector.batch(operations);
    expect(answers.find((answer) => answer.problem)?.key).toBe(operations[1]?.key);
    expect(answers[2]).toEqual({ key: operations[2]?.key, status: 424 });
    expect((await all(connector.index())).some((row) => row.name === 'contract-four')).toBe(false);
  });

  test('a record that was deleted is brought back exactly', async () => {
    const made = await one(create('contract-five'));
    const target = { kind: subject.sample.kind, id: made.id ?? '' };
    const [record] = await all(connector.records([target]));
    const before = await read(target.id);
    expect(record).toMatchObject({ ...target, etag: made.etag });
    expect((await one({ op: 'delete', key: key(), ...target, ifMatch: made.etag ?? '' })).status).toBe(204);
    expect(await read(target.id)).toBeUndefined();
    expect(await one({ op: 'restore', key: key(), ...target, ifMatch: '*', record: JSON.parse(JSON.stringify(record?.record)) as unknown })).toMatchObject({ etag: made.etag });
    expect(await read(target.id)).toEqual(before);
  });

  test('a media file is known by its digest', async () => {
    if (!(await connector.facts()).abilities.media) return;
    const bytes = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==', 'base64');
    const digest = createHash('sha256').update(bytes).digest('hex');
    expect(await connector.mediaSize(digest)).toBeUndefined();
    await connector.putMedia(digest, 'image/png', bytes);
    expect((await connector.mediaSize(digest))?.bytes).toBe(bytes.length);
    expect((await connector.media(digest)).bytes.equals(bytes)).toBe(true);
  });

  test('the ledger remembers runs, origins, bases and the forms that they name', async () => {
    const known = async () => { const { bases, ...rest } = await connector.ledger(); return { ...rest, bases: [...bases] }; };
    const run = { run: '20261123-000000-aaaa', verb: 'import', by: 'Isbel Farrow', from: 'dev', state: 'running', started: '2026-11-23T00:00:00.000Z', items: 3 } as const;
    const origin = { address: 'board:Ænd', id: '9007199254740993', fromSite: 'dev', fromId: 4, run: run.run, fingerprint: 'f' };
    const [one, other] = ['a', 'b'].map((letter) => ({ digest: letter.repeat(64), text: `{"⟦site⟧":"${letter}"}` })) as [{ digest: string; text: string }, { digest: string; text: string }];
    const base = { address: 'board:Ænd', fromSite: 'dev', source: one.digest, target: other.digest, run: run.run };
    await connector.changeLedger({ run, origins: [origin], bases: [base, { ...base, fromSite: 'elsewhere', covers: ['look'] }], forms: [one, other] });
    expect(await known()).toEqual({ runs: [run], origins: [origin], bases: expect.arrayContaining([base, { ...base, fromSite: 'elsewhere', covers: ['look'] }]) as unknown });
    expect(await connector.forms([other.digest, 'c'.repeat(64)])).toEqual(new Map([[other.digest, other.text]]));
    await connector.changeLedger({ run: { ...run, state: 'undone' }, forget: [origin.address], forgetBases: [{ address: base.address, fromSite: 'elsewhere' }], dropForms: [other.digest] });
    expect(await known()).toEqual({ runs: [{ ...run, state: 'undone' }], origins: [], bases: [base] });
    expect([...(await connector.forms([one.digest, other.digest])).keys()]).toEqual([one.digest]);
    // However often something is changed, the last word counts.
    for (let i = 1; i <= 12; i++) await connector.changeLedger({ bases: [{ ...base, run: `run-${i}` }], ...(i % 3 === 0 ? { forget: [origin.address] } : { origins: [{ ...origin, run: `run-${i}` }] }) });
    expect(await known()).toMatchObject({ origins: [], bases: [{ ...base, run: 'run-12' }] });
  });

  test('the lock is given back', async () => {
    await connector.unlock();
    await subject.other.lock({ owner: 'someone else', run: 'x', seconds: 5 });
    await subject.other.unlock();
  });
}
