import type { Rows } from './layout/schema.ts';
import { Refused, type Unit } from './store.ts';

type Rule = NonNullable<Rows['status']>;
type Status = Unit['status'];

export function statusOf(rule: Rule | undefined, word: string): Status { return rule?.draft.includes(word) === true ? 'draft' : 'published'; }

/** What a value says of a status: only a word of its own, which is neither the ordinary one nor a draft's. */
export function keptStatus(rule: Rule | undefined, word: string): Record<string, string> {
  return rule?.kept === undefined || word === rule.published[0] || rule.draft.includes(word) ? {} : { [rule.kept]: word };
}

/** The word of a new row. One of its own goes before being a draft: what is closed or private is not seen either. */
export function newStatus(rule: Rule, status: Status, value: Readonly<Record<string, unknown>>): string {
  return ownWord(rule, value) ?? (status === 'draft' ? rule.draft[0] : undefined) ?? rule.published[0] ?? '';
}

/** The word that a row has to have; undefined where it stays as it is. `status`: where that is to change. Throws `Refused` where it cannot. */
export function changedStatus(rule: Rule | undefined, now: Status, status: Status | undefined, value: Readonly<Record<string, unknown>>): string | undefined {
  const own = rule && ownWord(rule, value);
  if (own !== undefined) return own;
  if (status === undefined && (rule?.kept === undefined || now === 'draft')) return undefined;
  const word = status === 'draft' ? rule?.draft[0] : rule?.published[0];
  if (word === undefined) throw new Refused(422, `it cannot be ${status === 'draft' ? 'a draft' : 'published'}`);
  return word;
}

function ownWord(rule: Rule, value: Readonly<Record<string, unknown>>): string | undefined {
  const own = rule.kept === undefined ? undefined : value[rule.kept];
  return typeof own === 'string' ? own : undefined;
}
