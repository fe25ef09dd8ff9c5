import { applyPatch } from 'rfc6902';
import semver from 'semver';
import type { Facts } from './facts.ts';
import { cloneJson, type Json } from './json.ts';
import type { Converter, Kind } from './kind.ts';
import { Problem } from './problem.ts';

type Extensions = Pick<Facts, 'cms' | 'extensions'>;

/** The version of who owns a kind: the CMS or an extension. */
function ownerVersion(kind: Kind, facts: Extensions): string | undefined {
  const owner = kind.id.slice(0, kind.id.indexOf('/'));
  return owner === facts.cms.name ? facts.cms.version : facts.extensions.find((one) => one.name === owner)?.version;
}

/**
 * The way from the source's version of a kind's data to the target's, where they differ and either side describes one.
 * `from` and `to` of a converter are ranges of versions of the owner.
 */
export function converterFor(source: Kind, target: Kind, from: Extensions, to: Extensions): Converter | undefined {
  const wanted = target.description.version;
  if (wanted === source.description.version) return undefined;
  const [has, gets] = [ownerVersion(source, from), ownerVersion(target, to)];
  if (has === undefined || gets === undefined) return undefined;
  return [...source.description.converters, ...target.description.converters].find((one) => one.version === wanted && semver.satisfies(has, one.from) && semver.satisfies(gets, one.to));
}

/** Applies the patch of a converter (RFC 6902) to a portable value. Throws an `unreadable` problem for a step that does not fit. */
export function convert(value: Json, converter: Converter, where: string): Json {
  const document = { value: cloneJson(value) };
  const patch = converter.patch.map((step) => ({ ...step, path: `/value${step.path}`, ...('from' in step ? { from: `/value${step.from}` } : {}) }));
  const errors = applyPatch(document, patch);
  const at = errors.findIndex((error) => error !== null);
  if (at >= 0) throw new Problem('unreadable', `step ${at + 1} of the converter to version ${converter.version} does not fit: ${errors[at]?.message ?? ''}`, { where: `${where}#${converter.patch[at]?.path ?? ''}`, remedy: 'leave the item out, or have the converter in the description of the kind mended' });
  return document.value;
}
