import semver from 'semver';
import { parseAddress, type Address } from './address.ts';
import type { Extension, Facts } from './facts.ts';
import type { Kind, Kinds } from './kind.ts';
import { byCodeUnit, type Json } from './json.ts';
import { matches, parsePath } from './path.ts';
import { readNotation } from './translate/notation.ts';
import type { Node } from './tree.ts';

/** What items need on a target; computed, never ticked by hand. */
export type Requirement =
  | { readonly need: 'kind'; readonly kind: string; readonly version: number; /** Version of the owner that made it; empty where that does not matter. */ readonly madeWith: string }
  | { readonly need: 'extension'; readonly extension: string; readonly title: string; readonly version: string; readonly madeWith: string; /** Only the name of an item says so. */ readonly byName?: true }
  | { readonly need: 'tier'; readonly extension: string; readonly tier: string }
  | { readonly need: 'feature'; readonly extension: string; readonly feature: string }
  | { readonly need: 'theme'; readonly theme: string }
  | { readonly need: 'upload'; readonly type: string; readonly bytes: number };
export type NeededBy = Requirement & { readonly neededBy: readonly Address[] };

export type Finding = 'missing' | 'inactive' | 'too old' | 'too new' | 'source too new' | 'source too old' | 'lower tier' | 'switched off' | 'not active' | 'no place' | 'not accepted' | 'too large';
export interface Unmet { readonly requirement: NeededBy; readonly finding: Finding; /** What the target has instead. */ readonly has: string }

/** Collects requirements, each once, with the items that have them. */
export class RequirementList {
  readonly #found = new Map<string, { requirement: Requirement; neededBy: Set<Address> }>();

  add(requirement: Requirement, by: Address): void {
    const key = requirement.need === 'upload' ? `upload ${requirement.type}` : JSON.stringify(requirement);
    const entry = this.#found.get(key) ?? { requirement, neededBy: new Set<Address>() };
    // Of several files of one type the largest decides.
    if (requirement.need === 'upload' && entry.requirement.need === 'upload' && requirement.bytes > entry.requirement.bytes) entry.requirement = requirement;
    entry.neededBy.add(by);
    this.#found.set(key, entry);
  }

  list(): NeededBy[] {
    return [...this.#found.entries()].sort(([a], [b]) => byCodeUnit(a, b))
      .map(([, { requirement, neededBy }]) => ({ ...requirement, neededBy: [...neededBy].sort(byCodeUnit) }));
  }
}

/** False: what items of this kind need is the same for all of them, and no value has to be read for it. */
export function dependsOnValue(kind: Kind): boolean {
  return kind.description.requires.some((rule) => rule.when);
}

/** What is left for a person after an item with this value has arrived. */
export function leftByHand({ description: { byHand } }: Kind, value: Json): string[] {
  if (byHand.length === 0) return [];
  const tree = readNotation(value);
  return byHand.filter((rule) => hasValue(tree, rule.when)).map((rule) => rule.says);
}

function hasValue(tree: Node, { path, is }: { readonly path: string; readonly is: string | number | boolean }): boolean { return matches(tree, parsePath(path)).some(({ node }) => node === is); }

/** What is known of where an item was made. `converted`: it was carried over to the form of another version since. */
export type MadeBy = Pick<Facts, 'cms' | 'extensions' | 'theme'> & { readonly converted?: boolean };

/** What one item needs. `facts` are the source's: they say which version it was made with. */
export function requirementsOf(kind: Kind, address: Address, value: Json | undefined, facts: MadeBy): Requirement[] {
  const { description } = kind;
  const tree = dependsOnValue(kind) && value !== undefined ? readNotation(value) : null;
  const owner = kind.id.slice(0, kind.id.indexOf('/'));
  const made = facts.converted === true ? undefined : facts.extensions.find((one) => one.name === owner)?.version;
  const needs: Requirement[] = [{ need: 'kind', kind: kind.id, version: description.version, madeWith: made ?? '' }];
  const names = new Set<string>(owner === facts.cms.name ? [] : [owner]);
  for (const rule of description.requires) {
    if (rule.when && !hasValue(tree, rule.when)) continue;
    const extension = rule.extension ?? owner;
    names.add(extension);
    if (rule.tier !== undefined) needs.push({ need: 'tier', extension, tier: rule.tier });
    if (rule.feature !== undefined) needs.push({ need: 'feature', extension, feature: rule.feature });
  }
  for (const name of names) needs.push(extensionNeed(kind, name, facts));
  const named = description.ownedByName ? namedOwner(parseAddress(address).name, facts.extensions) : undefined;
  if (named !== undefined && !names.has(named)) needs.push({ ...extensionNeed(kind, named, facts), byName: true });
  if (description.themeScoped) needs.push(...themeNeed(parseAddress(address).name, facts));
  return needs;
}

/** What is kept of a theme that is not used where it comes from need not be used elsewhere either. */
function themeNeed(theme: string, facts: Pick<Facts, 'theme'>): Requirement[] { return facts.theme.name === '' || themesOf(facts).includes(theme) ? [{ need: 'theme', theme }] : []; }

/** The active theme, and its parent. */
function themesOf({ theme }: Pick<Facts, 'theme'>): string[] { return [theme.name, theme.parent?.name ?? ''].filter((name) => name !== ''); }

/** The extension after which something is called: "harbour-desk" for harbour_desk_mail, the longest of several. */
function namedOwner(name: string, extensions: readonly Extension[]): string | undefined {
  const called = plainName(name);
  const owners = extensions.filter((one) => { const own = plainName(one.name); return own.length >= SHORTEST_NAME && called.startsWith(own) && !/^[a-z\d]/.test(called.slice(own.length)); });
  return owners.sort((a, b) => b.name.length - a.name.length)[0]?.name;
}
/** Shorter names begin many others. */
const SHORTEST_NAME = 4;

function plainName(name: string): string { return name.replace(/^_+/, '').toLowerCase().replaceAll('-', '_'); }

function extensionNeed(kind: Kind, name: string, facts: Pick<Facts, 'extensions'>): Extract<Requirement, { need: 'extension' }> {
  const owner = kind.id.slice(0, kind.id.indexOf('/'));
  const has = facts.extensions.find((one) => one.name === name);
  const version = kind.description.requires.find((rule) => (rule.extension ?? owner) === name && rule.version !== undefined)?.version ?? '*';
  return { need: 'extension', extension: name, title: has?.title ?? name, version, madeWith: has?.version ?? '' };
}

/** Checks requirements against a target. Everything is reported at once; a kind that lacks only because of its extension is not named twice. */
export function checkRequirements(requirements: readonly NeededBy[], facts: Facts, kinds: Kinds): Unmet[] {
  const unmet = requirements.flatMap((requirement): Unmet[] => {
    const found = check(requirement, facts, kinds);
    return found ? [{ requirement, ...found }] : [];
  });
  const broken = new Set(unmet.flatMap(({ requirement }) => (requirement.need === 'extension' ? [requirement.extension] : [])));
  return unmet.filter(({ requirement }) => {
    if (requirement.need === 'kind') return !broken.has(requirement.kind.slice(0, requirement.kind.indexOf('/')));
    return requirement.need === 'extension' || !('extension' in requirement) || !broken.has(requirement.extension);
  });
}

function check(requirement: NeededBy, facts: Facts, kinds: Kinds): { finding: Finding; has: string } | undefined {
  const extension = 'extension' in requirement ? facts.extensions.find((one) => one.name === requirement.extension) : undefined;
  switch (requirement.need) {
    case 'kind': return checkKind(requirement, kinds);
    case 'extension': return checkExtension(requirement, extension);
    case 'tier': return checkTier(requirement.tier, extension);
    case 'feature': return extension?.features[requirement.feature] === true ? undefined : { finding: 'switched off', has: '' };
    case 'theme': return themesOf(facts).includes(requirement.theme) ? undefined : { finding: 'not active', has: themesOf(facts).join(', child of ') };
    case 'upload':
      if (!facts.abilities.media) return { finding: 'no place', has: '' };
      if (!facts.limits.uploadTypes.includes(requirement.type)) return { finding: 'not accepted', has: facts.limits.uploadTypes.join(', ') };
      return requirement.bytes > facts.limits.uploadBytes ? { finding: 'too large', has: String(facts.limits.uploadBytes) } : undefined;
  }
}

/** Both directions: the form of the data, and the versions of its owner whose data the target can read. */
function checkKind(requirement: { kind: string; version: number; madeWith: string }, kinds: Kinds) {
  const kind = kinds.get(requirement.kind);
  if (!kind) return { finding: 'missing', has: '' } as const;
  const has = kind.description.version;
  if (has !== requirement.version) return { finding: has < requirement.version ? 'too old' : 'too new', has: String(has) } as const;
  const reads = kind.description.requires.flatMap((rule) => rule.reads ?? []);
  if (requirement.madeWith === '' || reads.every((range) => semver.satisfies(requirement.madeWith, range))) return undefined;
  return { finding: reads.some((range) => semver.gtr(requirement.madeWith, range)) ? 'source too new' : 'source too old', has: reads.join(' ') } as const;
}

function checkExtension(requirement: { version: string }, extension: Extension | undefined) {
  if (!extension) return { finding: 'missing', has: '' } as const;
  if (!extension.active) return { finding: 'inactive', has: extension.version } as const;
  // A site that cannot tell the version takes whatever asks for none.
  if (requirement.version === '*' || semver.satisfies(extension.version, requirement.version)) return undefined;
  return { finding: semver.gtr(extension.version, requirement.version) ? 'too new' : 'too old', has: extension.version } as const;
}

function checkTier(tier: string, extension: Extension | undefined) {
  const rank = (name: string | undefined): number => (name === undefined ? -1 : extension?.tiers.indexOf(name) ?? -1);
  return rank(extension?.tier) >= rank(tier) && rank(tier) >= 0 ? undefined : { finding: 'lower tier', has: extension?.tier ?? '' } as const;
}
