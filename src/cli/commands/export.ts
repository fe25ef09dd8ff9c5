import { existsSync, readFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { Problem } from '../../core/problem.ts';
import { placeOf } from '../../core/address.ts';
import { exportItems, type ExportResult } from '../../jobs/export.ts';
import { printLeftOut, printRequirements } from '../output/findings.ts';
import { bytes, many, some } from '../../report/units.ts';
import { withheldText } from '../../report/words.ts';
import type { Printer } from '../output/printer.ts';
import type { Choice } from '../../jobs/choice.ts';
import { pickList } from '../../jobs/pull.ts';
import type { Source } from '../../jobs/sources/source.ts';
import { EXIT, type CommandRun, type Context } from '../context.ts';
import { choiceOf, fromAndSelectors, textOption } from '../words.ts';

/** What comes along is shown up to so many. */
const MOST_ALONG = 50;
const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47]);

export const run: CommandRun = async (context) => {
  const { call, workspace, words, options, out, json, quiet } = context;
  const { from, selectors } = fromAndSelectors(words);
  const file = resolve(call.folder, textOption(options, 'output') ?? '');
  if (!existsSync(dirname(file))) throw new Problem('usage', 'there is no such folder', { where: dirname(file), remedy: 'make it first, or write elsewhere with -o' });
  const cover = readCover(textOption(options, 'cover'), call.folder);
  const source = await workspace.open(from);
  try {
    const wanted = choiceOf(workspace, selectors, options);
    const choice = options['pick'] === true ? await picked(context, source, wanted) : wanted;
    if (!choice) { out.line('Nothing was chosen, nothing was written.'); return EXIT.done; }
    const result = await exportItems(source, {
      choice, file, alone: options['alone'] === true, author: textOption(options, 'author') ?? workspace.you, ...(cover ? { cover } : {}),
      ...given('title', textOption(options, 'title')), ...given('description', textOption(options, 'description')), ...given('version', textOption(options, 'versionOf')),
    }, workspace.onProgress);
    workspace.records.addExport({ verb: 'export', from: source.label, file, title: result.title, by: workspace.you, at: workspace.now().toISOString(), items: result.items, files: result.files, bytes: result.bytes, digest: result.digest });
    if (json) out.json(result);
    else printResult(out, result, quiet, textOption(options, 'output') ?? '');
    return EXIT.done;
  } finally {
    await source.close();
  }
};

/** Lets a person choose from what the words allow. */
async function picked({ call }: Context, source: Source, choice: Choice): Promise<Choice | undefined> {
  if (!call.stdin.isTTY || !call.stdout.isTTY) throw new Problem('blocked', 'there is no terminal to choose on', { where: '--pick', remedy: 'name what you want with selectors' });
  const { pick } = await import('../pick/prompt.ts');
  const selectors = await pick(source.label, await pickList(source, choice), { input: call.stdin, output: call.stdout });
  return selectors === undefined || selectors.length === 0 ? undefined : { ...(choice.noMedia === true ? { noMedia: true } : {}), ...(choice.take ? { take: choice.take } : {}), selectors };
}

function given<K extends string>(name: K, value: string | undefined): Partial<Record<K, string>> {
  return value === undefined ? {} : { [name]: value } as Record<K, string>;
}

function readCover(path: string | undefined, folder: string): Buffer | undefined {
  if (path === undefined) return undefined;
  let picture: Buffer;
  try { picture = readFileSync(resolve(folder, path)); } catch (error) { throw new Problem('usage', 'the cover picture cannot be read', { where: path, cause: error }); }
  if (!picture.subarray(0, 4).equals(PNG)) throw new Problem('usage', 'the cover is not a PNG picture', { where: path, remedy: 'convert it to PNG' });
  return picture;
}

function printResult(out: Printer, result: ExportResult, quiet: boolean, file: string): void {
  out.line(out.good('Written: '), result.file, `  (${bytes(result.bytes)})`);
  out.line(`  "${result.title}": ${many(result.items, 'item')}, ${many(result.files, 'picture or file', 'pictures and files')}`);
  out.line('  ', Object.entries(result.counts).map(([kind, count]) => `${count} ${kind}`).join(', '));
  out.line('  digest ', out.faint(result.digest));
  if (quiet) return;
  if (result.broughtAlong.length > 0) {
    out.heading(`Brought along (${result.broughtAlong.length}): chosen items refer to them`);
    out.table(result.broughtAlong.slice(0, MOST_ALONG).map((one) => [out.name(one.address), `for ${one.for}`]));
    if (result.broughtAlong.length > MOST_ALONG) out.line('  ', out.faint(`and ${result.broughtAlong.length - MOST_ALONG} more: "pochette inspect ${file}" lists everything in it`));
  }
  printRequirements(out, result.requirements);
  const withheld = result.withheld.filter((one) => one.why === 'secret' || one.why === 'site-bound');
  if (withheld.length > 0) {
    out.heading('Withheld: these values stay on the site');
    out.table(withheld.map((one) => [placeOf(one.address, one.at), one.why === 'secret' ? out.note(withheldText(one.why)) : withheldText(one.why)]));
  }
  printLeftOut(out, result.leftOut);
  if (result.content.length > 0) {
    out.heading('Content that the target must have');
    out.line('  ', some(result.content.map((one) => one.address), 8));
  }
  out.line();
  out.line(`Next: "pochette inspect ${file}" looks into it; "pochette compare ${file} SITE" compares it.`);
}
