import { createHash } from 'node:crypto';
import { cpSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { siteConfig } from '../src/standin/scenario/facts.ts';
import { OWN_ADDRESS } from '../src/standin/scenario/names.ts';
import { median, peakMegabytes, run, seconds, startSite } from './measure.ts';
import { recordImport, replay } from './replay.ts';
import { addLine, DIST, notePeak, POCHETTE } from './table.ts';

const PICTURE_BYTES = 50_000;
const ITEMS_A_PICTURE = 10;
const TURNS = 3;

/** An empty site, and one with `count` templates of 4 KB, a tenth of them with a picture of 50 KB. */
function generate(folder: string, count: number): void {
  const records: object[] = [];
  const base = 1_000_000;
  mkdirSync(join(folder, 'dev', 'media'), { recursive: true });
  for (let i = 0; i < count; i++) {
    const picture = i % ITEMS_A_PICTURE === 0 ? base + count + i : 0;
    if (picture > 0) {
      const bytes = Buffer.alloc(PICTURE_BYTES, `picture ${i} `);
      bytes.write('\u0089PNG\r\n\u001a\n', 'latin1');
      const file = createHash('sha256').update(bytes).digest('hex');
      writeFileSync(join(folder, 'dev', 'media', file), bytes);
      records.push({ id: picture, kind: 'tholepin/media', name: `picture-${i}`, status: 'published', revision: 1, value: { title: `Picture ${i}`, alt: '', fileName: `picture-${i}.png`, file } });
    }
    records.push({ id: base + i, kind: 'tholepin/template', name: `sheet-${String(i).padStart(6, '0')}`, status: 'published', revision: 1, value: { title: `Sheet ${i}`, markup: `<p>${'Boats leave by the clock of the pier. '.repeat(100)}<a href="${OWN_ADDRESS}/fares/">fares</a></p>`, hero: picture, related: i % 100 > 0 ? `${base + i - (i % 100)}` : '', next: 0, link: '', layout: '', code: '' } });
  }
  for (const [site, list] of [['dev', records], ['live', []]] as const) {
    mkdirSync(join(folder, site, 'records'), { recursive: true });
    for (const record of list) writeFileSync(join(folder, site, 'records', `${(record as { id: number }).id}.json`), JSON.stringify(record));
    writeFileSync(join(folder, site, 'site.json'), JSON.stringify({ ...siteConfig(site), content: [], nextId: site === 'dev' ? base * 3 : base * 5 }));
  }
}

/** Everything is new on the target: whole process, beside curl with the very requests of such an import, to a site like the target. */
export async function arrival(count: number): Promise<void> {
  const work = resolve('bench', 'work', `arrival-${count}`);
  rmSync(work, { recursive: true, force: true });
  generate(work, count);
  const [dev, live] = await Promise.all([startSite(join(DIST, 'standin.cjs'), join(work, 'dev')), startSite(join(DIST, 'standin.cjs'), join(work, 'live'))]);
  try {
    writeFileSync(join(work, 'pochette.yaml'), ['you: bench', 'sites:', ...Object.entries({ dev, live }).flatMap(([name, { address, token }]) => { writeFileSync(join(work, `${name}.token`), token); return [`  ${name}:`, `    url: ${address}`, `    token: file:${name}.token`]; })].join('\n') + '\n');
    const pochette = (...words: string[]): string[] => [...POCHETTE, ...words];
    const undo = (): void => { run(pochette('undo', 'live', '--yes', '--json'), work); rmSync(join(work, 'live', 'media'), { recursive: true }); mkdirSync(join(work, 'live', 'media')); };
    cpSync(join(work, 'live'), join(work, 'before'), { recursive: true });
    const recorded = await recordImport(work, pochette, live.address);
    undo();
    const [ours, theirs]: [number[], number[]] = [[], []];
    for (let turn = 0; turn < TURNS; turn++) {
      ours.push(seconds(pochette('import', 'dev', 'live', '--yes', '--json'), work));
      theirs.push(await replay(recorded, join(work, 'before'), work));
      undo();
    }
    const pictures = count / ITEMS_A_PICTURE;
    addLine(`import of ${count} new items with ${pictures} pictures (${(pictures * PICTURE_BYTES) / 1e6} MB), whole process`, `curl of the same bytes in as many requests (${recorded.length})`, { ours: median(ours), theirs: median(theirs), ratio: median(ours.map((one, i) => one / (theirs[i] ?? NaN))) }, '6x');
    notePeak('import of new items with pictures', count, peakMegabytes(pochette('import', 'dev', 'live', '--yes', '--json'), work));
  } finally {
    dev.process.kill();
    live.process.kill();
  }
}
