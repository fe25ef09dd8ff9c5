import { Command, CommanderError, Option } from 'commander';

/** The only file that touches the process. It knows the words of the command line; the work is loaded when a command runs. */
const COMMON = [
  new Option('--json', 'print one JSON document for scripts'),
  new Option('-q, --quiet', 'print results only'),
  new Option('-v, --verbose', 'print more, stack traces included'),
  new Option('--config <file>', 'use this pochette.yaml'),
  new Option('--no-color', 'no colours (also: NO_COLOR)'),
];
const gather = (value: string, before: string[] | undefined): string[] => [...(before ?? []), value];
const several = (flags: string, says: string): Option => new Option(flags, says).argParser(gather);
/** What is chosen of the source. */
const CHOICE = [
  several('--except <selector>', 'leave these out again'), several('--owner <extension>', 'only what this extension owns'), several('--titled <text>', 'only what has this text in its title'),
  new Option('--changed-since <when>', 'only what was changed since: a date, or 3d or 12h'), new Option('--selection <name>', 'a choice that pochette.yaml names'),
  several('--take <place>', 'take what usually stays: kind:name#/place or kind:name#part'), new Option('--no-media', 'leave pictures and files out'),
];
/** What becomes of it on the way. */
const WAY = [
  new Option('--leave-unmatched', 'leave places empty that refer to what the target does not have'),
  several('--match <pair>', 'kind:name=kind:other: what is called so there is called otherwise here'), several('--as <pair>', 'kind:name=kind:other: give an item another name, or put it onto another one'),
];
const ROUTE = [...CHOICE, ...WAY, several('--decide <answer>', 'source or target for all clashes; or what a question is about, = and one of its answers'), new Option('--remember', 'keep the answers for next time'), new Option('--ask-again', 'do not use answers that were kept'), new Option('--alone', 'do not bring along what the chosen items refer to'), new Option('--draft', 'what is created stays unseen until "publish"'), new Option('--allow-missing', 'import what can be imported, and list the rest')];
const REPORT = new Option('--report <file>', 'write it as a page to look at');
const CONSENT = [new Option('-y, --yes', 'do not ask'), new Option('--confirm <name>', 'the name of a guarded site, instead of typing it')];

interface Verb { name: string; args: string; says: string; options?: Option[] }
const VERBS: readonly Verb[] = [
  { name: 'init', args: '', says: 'write a commented pochette.yaml into this folder' },
  { name: 'sites', args: '', says: 'configured sites: reachable or not, CMS, theme, extensions, rights' },
  { name: 'list', args: '<from> [selectors...]', says: 'what can travel, by kind, with parts and needs', options: CHOICE },
  { name: 'show', args: '<from> <address>', says: 'one item in portable form, and what it hangs together with' },
  {
    name: 'export', args: '<site> [selectors...]', says: 'write chosen items and what belongs to them into a file',
    options: [new Option('-o, --output <file>', 'the file to write').makeOptionMandatory(), ...CHOICE, new Option('--pick', 'choose from a list on the terminal, with search'), new Option('--title <text>', 'title of the file'), new Option('--description <text>'), new Option('--version-of <text>', 'version of the contents'), new Option('--author <text>'), new Option('--cover <png>', 'a PNG picture'), new Option('--alone', 'do not bring along what the chosen items refer to')],
  },
  { name: 'inspect', args: '<file>', says: 'what a file holds and needs; every digest is checked' },
  { name: 'compare', args: '<from> <to> [selectors...]', says: 'per item and place: new, differs, same, target-only (exit code 1: there are differences)', options: [new Option('--short', 'items only, without the changed places'), new Option('--all', 'cut no long list'), new Option('--format <name>', 'markdown: for a review'), REPORT, new Option('--previews', 'show on that page how the pages of items look now'), ...CHOICE, ...WAY] },
  { name: 'changes', args: '<site>', says: 'what changed on a site since the imports to it (exit code 1: something did)' },
  { name: 'route', args: '<from> <to> [selectors...]', says: 'requirements, then the numbered steps of an import, in order, with reasons', options: [new Option('-o, --output <file>', 'write the route as a file to read and approve'), REPORT, ...ROUTE] },
  { name: 'import', args: '[words...]', says: 'from one place to a site: safety copy, steps in order, everything read back', options: [new Option('--route <file>', 'do exactly what this route says, or refuse'), new Option('--replan', 'make that route anew, with its answers and without what was taken out'), REPORT, ...ROUTE, ...CONSENT] },
  { name: 'publish', args: '<site> [words...]', says: 'make drafts visible: those of the newest import, of a run, or what selectors choose', options: CONSENT },
  { name: 'followups', args: '<site>', says: 'what is left for a person to do on a site', options: [several('--done <numbers>', 'tick these off')] },
  { name: 'verify', args: '<from> <to> [selectors...]', says: 'is everything there and equal, and do the pages answer', options: [...CHOICE, ...WAY] },
  { name: 'history', args: '[site]', says: 'imports, undos and exports, newest first', options: [REPORT] },
  { name: 'undo', args: '<site> [run]', says: 'bring a site back to the state before an import', options: [new Option('--even-if-changed', 'lose what was changed since'), ...CONSENT] },
  { name: 'layout', args: '<action> <site>', says: 'check: what the layout of a database finds and what nothing describes; draft: write a beginning of one', options: [new Option('-o, --output <file>', 'where to write the draft; else it is printed')] },
  {
    name: 'serve', args: '<site>', says: 'offer a site of this machine, such as one in a database, over the site protocol',
    options: [new Option('--token <where>', 'the token that the other side must give: env:NAME or file:PATH').makeOptionMandatory(), new Option('--writable', 'allow writing; else it is for reading only'), new Option('--port <number>', 'port (8427)'), new Option('--host <address>', 'address to listen on (127.0.0.1); any other needs --cert and --key'), new Option('--cert <file>', 'TLS certificate, PEM'), new Option('--key <file>', 'its private key, PEM')],
  },
  { name: 'demo', args: '', says: 'the whole job on simulated sites', options: [new Option('--stay', 'leave the sites running until Ctrl-C'), new Option('--in <folder>', 'where to write pochette.yaml and the sites')] },
];

function commandLine(settle: (code: number) => void): Command {
  const program = new Command('pochette').description('Carries the configuration of a website from one site to another:\ncompares, resolves dependencies, imports in order, and can go back.')
    .version(VERSION, '--version').exitOverride().showSuggestionAfterError().addHelpText('after', '\nStart with: pochette init, or pochette demo. Every command has --help.');
  for (const verb of VERBS) {
    const command = program.command(`${verb.name} ${verb.args}`.trim()).description(verb.says).exitOverride();
    for (const option of [...(verb.options ?? []), ...COMMON]) command.addOption(option);
    command.action(async () => {
      const { run } = await import('./program.ts');
      settle(await run({
        verb: verb.name, words: command.args, options: command.opts(), folder: process.cwd(), environment: process.env,
        stdin: process.stdin, stdout: process.stdout, stderr: process.stderr, signals: process,
      }));
    });
  }
  return program;
}

declare const VERSION: string;

async function main(): Promise<void> {
  const USAGE = 2;
  const FAULT = 70;
  process.stdout.on('error', (error: NodeJS.ErrnoException) => { if (error.code === 'EPIPE') process.exit(0); });
  try {
    await commandLine((code) => { process.exitCode = code; }).parseAsync();
  } catch (error) {
    if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : USAGE;
    else {
      process.stderr.write(`pochette: ${error instanceof Error ? error.message : String(error)}\n`);
      process.exitCode = FAULT;
    }
  }
}

void main();
