import type { Workspace } from '../jobs/workspace.ts';
import type { Printer } from './output/printer.ts';

/** What the outermost file hands in; nothing below it touches the process. */
export interface Call {
  readonly verb: string;
  readonly words: readonly string[];
  readonly options: Readonly<Record<string, unknown>>;
  readonly folder: string;
  readonly environment: Readonly<Record<string, string | undefined>>;
  readonly stdin: NodeJS.ReadStream;
  readonly stdout: NodeJS.WriteStream;
  readonly stderr: NodeJS.WriteStream;
  /** Tells when the program is asked to end. */
  readonly signals: NodeJS.EventEmitter;
}
/** What every command gets. A command returns its exit code. */
export interface Context {
  readonly call: Call;
  readonly words: readonly string[];
  readonly options: Readonly<Record<string, unknown>>;
  readonly workspace: Workspace;
  readonly out: Printer;
  readonly json: boolean;
  readonly quiet: boolean;
}
export type CommandRun = (context: Context) => Promise<number>;

export const EXIT = { done: 0, differences: 1, blocked: 3 } as const;
