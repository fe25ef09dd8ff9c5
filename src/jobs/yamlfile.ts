import { isMap, isPair, isSeq, LineCounter, parseDocument, type Document } from 'yaml';
import type * as z from 'zod';
import { Problem, type ProblemCode } from '../core/problem.ts';

/** A YAML file that was checked; `where` finds the line and the column of what lies in it. */
export interface YamlFile<T> { readonly value: T; readonly where: (way: readonly (string | number)[]) => string }

export interface YamlRules<T> {
  readonly schema: z.ZodType<T>;
  readonly path: string;
  readonly code: ProblemCode;
  /** What to do about a wrong value. */
  readonly remedy: string;
  /** What to do where it is no YAML at all. */
  readonly mend: string;
}

/** Reads and checks a YAML file that people write. Throws a problem that names line and column. */
export function readYaml<T>(text: string, { schema, path, code, remedy, mend }: YamlRules<T>): YamlFile<T> {
  const lines = new LineCounter();
  const document = parseDocument(text, { lineCounter: lines });
  const at = (offset: number): string => { const { line, col } = lines.linePos(offset); return `${path}:${line}:${col}`; };
  const fault = document.errors[0];
  if (fault) throw new Problem(code, `this is not YAML: ${fault.message.split('\n')[0] ?? ''}`, { where: at(fault.pos[0]), remedy: mend });
  const where = (way: readonly (string | number)[]): string => at(offsetOf(document, way));
  const parsed = schema.safeParse(document.toJS({ maxAliasCount: 0 }));
  if (parsed.success) return { value: parsed.data, where };
  const [issue] = parsed.error.issues as [z.core.$ZodIssue];
  const way = issue.path.map((step) => (typeof step === 'number' ? step : String(step)));
  const wrong = issue.code === 'unrecognized_keys' ? [...way, issue.keys[0] ?? ''] : way;
  const name = wrong.join('.');
  throw new Problem(code, issue.code === 'unrecognized_keys' ? `the key "${name}" is not known` : `${name === '' ? 'the file' : name}: ${issue.message}`, { where: where(wrong), remedy });
}

/** Where a value stands; of what is not there, the nearest thing around it. */
function offsetOf(document: Document, way: readonly (string | number)[]): number {
  let node: unknown = document.contents;
  let offset = startOf(node);
  for (const step of way) {
    if (isMap(node)) {
      const pair = node.items.find((one) => isPair(one) && (one.key as { value?: unknown } | null)?.value === step);
      if (!pair) break;
      offset = startOf(pair.key) ?? offset;
      node = pair.value;
    } else if (isSeq(node) && typeof step === 'number') {
      node = node.items[step];
      offset = startOf(node) ?? offset;
    } else break;
  }
  return offset ?? 0;
}

function startOf(node: unknown): number | undefined { return (node as { range?: [number, number, number] | null } | null | undefined)?.range?.[0]; }
