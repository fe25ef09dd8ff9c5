import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Problem } from '../../core/problem.ts';
import { CONFIG_FILE } from '../../jobs/config.ts';
import { EXIT, type CommandRun } from '../context.ts';

const TEXT = `# Configuration of Pochette. It is found from the folder you work in and from every folder below.
# Records (runs, safety copies, exports) are kept in .pochette/ beside it.

# Your name: it stands in the history and beside the lock that other people see.
you: me

sites:
  dev:
    # The address of the site; its counterpart of Pochette must be switched on there.
    url: http://127.0.0.1:8001
    # Where the token is: env:NAME for a variable of the environment, file:PATH for a file (beside this one).
    # The token itself never stands here.
    token: file:dev.token
    # development, staging or live
    role: development
  live:
    url: http://127.0.0.1:8002
    token: env:LIVE_TOKEN
    role: live
    # true: before anything is written the name of the site has to be typed (in scripts: --confirm live)
    guarded: true
    # A site in a database needs no counterpart: mysql://USER@HOST/DATABASE, postgres://… or sqlite:PATH
    #   url: mysql://pochette@127.0.0.1/cms_live
    #   password: env:LIVE_DB_PASSWORD
    #   media: /srv/live/uploads
    # Content that has another address here than on the site it comes from.
    # matches:
    #   page:winter: page:winter-sailings
`;

/** Writes a commented configuration to begin with; an existing one is never overwritten. */
export const run: CommandRun = ({ call, out, json, quiet }) => {
  const path = join(call.folder, CONFIG_FILE);
  if (existsSync(path)) throw new Problem('usage', 'there is a configuration already', { where: path, remedy: 'edit it, or move it away first' });
  writeFileSync(path, TEXT, { flag: 'wx' });
  if (json) out.json({ written: path });
  else {
    out.line('Written: ', path);
    if (!quiet) out.line('Next: put in your sites, then "pochette sites".');
  }
  return Promise.resolve(EXIT.done);
};
