/** What went wrong, as a closed set: it decides the exit code, and words are made from it last. */
export type ProblemCode = 'usage' | 'blocked' | 'moved' | 'restored' | 'interrupted' | 'unreachable' | 'unreadable' | 'internal';

/** A problem that a person can act on: what happened, where, and what to do next. */
export class Problem extends Error {
  readonly code: ProblemCode;
  readonly where: string | undefined;
  readonly remedy: string | undefined;
  readonly details: readonly string[];

  constructor(code: ProblemCode, message: string, more: { where?: string; remedy?: string; details?: readonly string[]; cause?: unknown } = {}) {
    super(message, more.cause === undefined ? undefined : { cause: more.cause });
    this.name = 'Problem';
    this.code = code;
    this.where = more.where;
    this.remedy = more.remedy;
    this.details = more.details ?? [];
  }
}

/** Bundles are loaded apart from one another, so that `instanceof` is not enough. */
export function isProblem(error: unknown): error is Problem {
  return error instanceof Error && error.name === 'Problem' && 'code' in error;
}
