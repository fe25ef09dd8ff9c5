import { itemYaml } from '../../core/itemtext.ts';
import { placeOf } from '../../core/address.ts';
import { Problem } from '../../core/problem.ts';
import { show } from '../../jobs/list.ts';
import { clean } from '../../core/clean.ts';
import { requirementText, withheldText } from '../../report/words.ts';
import { EXIT, type CommandRun } from '../context.ts';

export const run: CommandRun = async ({ workspace, words, out, json, quiet }) => {
  const [from = '', address, ...more] = words;
  if (address === undefined || more.length > 0) throw new Problem('usage', 'say from where and which item, for example "dev template:front"');
  const source = await workspace.open(from);
  try {
    const shown = await show(source, address);
    if (json) { out.json({ from: source.label, ...shown }); return EXIT.done; }
    out.raw(clean(itemYaml(shown.item), true));
    if (quiet) return EXIT.done;
    const { refersTo, referredToBy, requires, withheld, origin } = shown;
    out.line(`# fingerprint ${shown.fingerprint}`);
    if (origin) out.line(`# came from ${origin.from ?? origin.fromSite}${origin.at === undefined ? '' : `, ${origin.at.slice(0, 16).replace('T', ' ')} UTC`}, run ${origin.run}, as fingerprint ${origin.fingerprint}`);
    for (const one of refersTo) out.line(`# refers to ${one.to}  at ${one.at}${one.strong ? '' : ' (a link)'}`);
    for (const one of referredToBy) out.line(`# referred to by ${placeOf(one.address, one.at)}`);
    for (const one of requires) out.line(`# requires ${requirementText(one)}`);
    for (const one of withheld) out.line(`# stays on the site: ${one.at} (${withheldText(one.why)})`);
    return EXIT.done;
  } finally {
    await source.close();
  }
};
