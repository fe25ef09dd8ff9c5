import { parseAddress, type Address } from './address.ts';
import { order } from './graph.ts';
import type { Coverage } from './item.ts';
import { byCodeUnit } from './json.ts';
import type { Unmet } from './requirements.ts';

/** An item that an import would write. */
export interface Planned {
  readonly address: Address;
  readonly kind: string;
  readonly title: string;
  readonly covers: Coverage;
  readonly rank: number;
  readonly action: 'create' | 'update';
  /** Of a creation: drafts are not seen by visitors. */
  readonly status?: 'published' | 'draft';
  /** What it refers to by id or name: these must exist before. */
  readonly needs: readonly Address[];
  /** Those of them without which the target does not take it. */
  readonly firm: readonly Address[];
  /** What it means inside other items, with the item that it lies in: while that is written, its ids are not known. */
  readonly inside: readonly { readonly to: Address; readonly holder: Address }[];
  readonly files: readonly string[];
  /** Fingerprint of what is carried. */
  readonly fingerprint: string;
  /** The target's etag that the route was made for; absent for a creation. */
  readonly etag?: string;
}
export interface PlannedFile { readonly digest: string; readonly type: string; readonly bytes: number }

export type Step =
  | { readonly step: number; readonly do: 'upload'; readonly file: string; readonly type: string; readonly bytes: number; readonly before: readonly StepReason[] }
  | ItemStep
  | { readonly step: number; readonly do: 'complete'; readonly item: Address; readonly refersTo: readonly Address[] };
export interface ItemStep {
  readonly step: number;
  readonly do: 'create' | 'update';
  readonly item: Address;
  readonly title: string;
  readonly kind: string;
  readonly covers: Coverage;
  readonly level: number;
  readonly fingerprint: string;
  readonly etag?: string;
  readonly status?: 'published' | 'draft';
  /** References that are left empty at first, because they close a circle, or because what they mean lies in something that is written. */
  readonly deferred: readonly Address[];
  /** Later steps that use this item. */
  readonly before: readonly StepReason[];
}
export interface StepReason { readonly step: number; readonly item: Address }

export type Block =
  | { readonly block: 'requirement'; readonly unmet: Unmet }
  | { readonly block: 'missing'; readonly item: Address; readonly at: string; readonly to: Address; /** What the target has that is most like it. */ readonly near: readonly Address[]; /** The name of the item is made of it, which then can only be left out. */ readonly naming?: boolean }
  | { readonly block: 'lost'; readonly item: Address; readonly at: string; readonly raw: number | string }
  | { readonly block: 'part-of-nothing'; readonly item: Address }
  /** What keeps visitors out of it does not travel, and the target has none for it. */
  | { readonly block: 'unguarded'; readonly item: Address; readonly at: string }
  | { readonly block: 'file-missing'; readonly item: Address; readonly file: string }
  /** Both sides changed it since it was last carried; `at`: the places that both changed, where they are known. */
  | { readonly block: 'clash'; readonly item: Address; readonly at: readonly string[] }
  /** The target has something else under this address; `likeness` from 0 to 1. */
  | { readonly block: 'collision'; readonly item: Address; readonly titles: readonly [source: string, target: string]; readonly likeness: number; /** Where the target's one came from, if that is known. */ readonly origin?: string }
  /** Another item has the same value at a place where no two may have the same. */
  | { readonly block: 'same-key'; readonly item: Address; readonly at: string; readonly key: string; readonly other: Address; /** Both come with this import. */ readonly arrives: boolean }
  /** A step that it needs was taken out of the route. */
  | { readonly block: 'dropped'; readonly item: Address; readonly needs: string }
  /** More bytes than the target takes in one request. */
  | { readonly block: 'too-large'; readonly item: Address; readonly bytes: number; readonly limit: number }
  | { readonly block: 'read-only' };

export type FollowUp =
  | { readonly followUp: 'link-missing'; readonly item: Address; readonly at: string; readonly to: Address }
  | { readonly followUp: 'left-empty'; readonly item: Address; readonly at: string; readonly to: string }
  | { readonly followUp: 'picture-missing'; readonly item: Address; readonly at: string; readonly to: Address }
  /** A number that is nothing's id on the source, and is one on the target. */
  | { readonly followUp: 'stray-id'; readonly item: Address; readonly at: string; readonly raw: string; readonly to: Address }
  /** A text that speaks of the source's host, and is no address of it: a mailbox, say. */
  | { readonly followUp: 'source-named'; readonly item: Address; readonly at: string; readonly host: string }
  /** A file that no item has, which the source has at this path and the target has not. */
  | { readonly followUp: 'file-absent'; readonly item: Address; readonly path: string }
  /** What a kind says of items with such a value. */
  | { readonly followUp: 'tend'; readonly item: Address; readonly what: string }
  | { readonly followUp: 'publish'; readonly item: Address }
  | { readonly followUp: 'enter-secret'; readonly item: Address; readonly at: string }
  | { readonly followUp: 'set-own'; readonly item: Address; readonly at: string }
  /** Something about the whole site that no item stands for. */
  | { readonly followUp: 'by-hand'; readonly what: string };

/** The ordered list of what an import will do. */
export interface Route {
  readonly steps: readonly Step[];
  readonly blocks: readonly Block[];
  readonly followUps: readonly FollowUp[];
}

/**
 * Puts planned items in order and numbers the steps: files first, then creations level by level, then updates, then what had to wait: for what closes circles, and for what lies in other items.
 * Updates come last, so that visitors see nothing new before all of it is there; and as nothing has to wait for them they go in large pieces.
 */
export function planSteps(items: readonly Planned[], files: readonly PlannedFile[]): Step[] {
  const created = new Set(items.filter((item) => item.action === 'create').map((item) => item.address));
  // What exists already has its id: only creations force an order.
  const creations = order(items.filter((item) => item.action === 'create').map((item) => ({ name: item.address, rank: item.rank, needs: item.needs.filter((need) => created.has(need)), firm: item.needs.filter((need) => created.has(need) && (isNamedAfter(item.address, need) || item.firm.includes(need))) })));
  const last = creations.reduce((highest, one) => Math.max(highest, one.level), -1) + 1;
  const updates = order(items.filter((item) => item.action === 'update').map((item) => ({ name: item.address, rank: item.rank, needs: [] })));
  const ordered = [...creations, ...updates.map((one) => ({ ...one, level: last }))];
  const byAddress = new Map(items.map((item) => [item.address, item]));
  const waiting = ({ inside }: Planned): Address[] => inside.filter(({ holder }) => byAddress.has(holder)).map(({ to }) => to);
  const number = new Map(ordered.map(({ name }, i) => [name, files.length + i + 1]));
  const users = usersOf(items, number);
  const uploads = [...files].sort((a, b) => byCodeUnit(a.digest, b.digest)).map((file, i): Step => ({
    step: i + 1, do: 'upload', file: file.digest, type: file.type, bytes: file.bytes,
    before: items.filter((item) => item.files.includes(file.digest)).map((item) => ({ step: number.get(item.address) as number, item: item.address })),
  }));
  const writes = ordered.map(({ name, level, deferred }): ItemStep => {
    const item = byAddress.get(name) as Planned;
    return {
      step: number.get(name) as number, do: item.action, item: name, title: item.title, kind: item.kind, covers: item.covers, level,
      fingerprint: item.fingerprint, ...(item.etag === undefined ? {} : { etag: item.etag }), ...(item.status === undefined ? {} : { status: item.status }), deferred: [...new Set([...deferred, ...waiting(item)])], before: users.get(name) ?? [],
    };
  });
  const open = writes.filter((step) => step.deferred.length > 0);
  const completions = open.map((step, i): Step => ({ step: files.length + writes.length + i + 1, do: 'complete', item: step.item, refersTo: step.deferred }));
  return [...uploads, ...writes, ...completions];
}

/** Is the name of the other one a part of its name? Then it can get its name only when that is there. */
function isNamedAfter(address: Address, other: Address): boolean {
  const [name, part] = [parseAddress(address).name, parseAddress(other).name];
  return name.length > part.length && name.includes(part);
}

/** For each item the later steps that refer to it. */
function usersOf(items: readonly Planned[], number: ReadonlyMap<Address, number>): Map<Address, StepReason[]> {
  const users = new Map<Address, StepReason[]>();
  for (const item of items) {
    const step = number.get(item.address) as number;
    for (const need of new Set(item.needs)) {
      const own = number.get(need);
      if (own === undefined || own >= step) continue;
      const list = users.get(need) ?? [];
      users.set(need, list);
      list.push({ step, item: item.address });
    }
  }
  for (const list of users.values()) list.sort((a, b) => a.step - b.step);
  return users;
}
