import { once } from 'node:events';
import { Problem } from '../../core/problem.ts';
import { EXIT, type CommandRun } from '../context.ts';

const PORT = 8427;

export const run: CommandRun = async ({ workspace, words, options, out, json, quiet, call }) => {
  const [site] = words;
  if (site === undefined) throw new Problem('usage', 'name the site');
  const given = (name: string): string | undefined => (typeof options[name] === 'string' ? options[name] : undefined);
  const token = workspace.secret('--token', given('token') ?? '');
  const [cert, key] = [given('cert'), given('key')];
  if ((cert === undefined) !== (key === undefined)) throw new Problem('usage', '--cert and --key belong together', { remedy: 'give both, or neither' });
  const connector = await workspace.connector(site);
  try {
    const { serve } = await import('../../sites/serve/server.ts');
    const writable = options['writable'] === true;
    const served = await serve(connector, {
      host: given('host') ?? '127.0.0.1', port: Number(given('port') ?? PORT), token, writable, ...(cert !== undefined && key !== undefined ? { tls: { cert, key } } : {}),
      ...(options['verbose'] === true ? { onRequest: (line: string) => { out.line(out.faint(line)); } } : {}),
    });
    if (json) out.json({ serving: site, address: served.address, writable });
    else {
      out.line(out.good('Serving '), out.strong(site), ` on ${served.address}, `, writable ? out.note('for reading and writing') : 'for reading only', '. Ctrl-C ends it.');
      if (!quiet) out.line('In the pochette.yaml of the other machine: ', out.name(`url: ${served.address}`), ' and the same token.');
    }
    await Promise.race([once(call.signals, 'SIGINT'), once(call.signals, 'SIGTERM')]);
    await served.close();
    return EXIT.done;
  } finally {
    await connector.close();
  }
};
