import { sha256 } from '../core/canonical.ts';

export const SVG = 'image/svg+xml';

const SHAPES = ['svg', 'g', 'defs', 'symbol', 'use', 'title', 'desc', 'path', 'rect', 'circle', 'ellipse', 'line', 'polyline', 'polygon', 'text', 'tspan', 'textPath', 'linearGradient', 'radialGradient', 'stop', 'clipPath', 'mask', 'pattern', 'marker', 'filter',
  'feGaussianBlur', 'feOffset', 'feBlend', 'feColorMatrix', 'feComponentTransfer', 'feFuncA', 'feFuncR', 'feFuncG', 'feFuncB', 'feComposite', 'feFlood', 'feMerge', 'feMergeNode', 'feMorphology', 'feTurbulence', 'feDropShadow', 'switch', 'view', 'style'];

/** A picture without anything that could run or load: elements and attributes outside a list of drawing ones are taken out, and so are links that lead out of the file. */
export async function cleanSvg(bytes: Buffer): Promise<{ bytes: Buffer; digest: string; removed: string[] }> {
  const { default: sanitize } = await import('sanitize-html');
  const text = bytes.toString('utf8');
  const removed = new Set<string>();
  const clean = sanitize(text, {
    parser: { xmlMode: true, lowerCaseTags: false, lowerCaseAttributeNames: false },
    allowVulnerableTags: true, allowedTags: [...SHAPES], allowedAttributes: false, allowedSchemes: [],
    allowedSchemesAppliedToAttributes: [], nonTextTags: ['script', 'foreignObject', 'iframe', 'animate', 'set'],
    transformTags: {
      '*': (tag, attributes) => {
        if (!SHAPES.includes(tag)) removed.add(`<${tag}>`);
        const kept = Object.entries(attributes).filter(([name, value]) => {
          const bad = isBad(name, value);
          if (bad) removed.add(`${name} of <${tag}>`);
          return !bad;
        });
        return { tagName: tag, attribs: Object.fromEntries(kept) };
      },
    },
    exclusiveFilter: ({ tag, text: inner }) => {
      const loads = tag === 'style' && LOADS.test(inner);
      if (loads) removed.add('links in <style>');
      return loads;
    },
  });
  if (/<!(DOCTYPE|ENTITY)/i.test(text)) removed.add('<!DOCTYPE>');
  if (removed.size === 0) return { bytes, digest: sha256(bytes), removed: [] };
  const cleaned = Buffer.from(clean);
  return { bytes: cleaned, digest: sha256(cleaned), removed: [...removed].sort() };
}

/** Ways for CSS to load something from elsewhere or to run it. */
const LOADS = /@import|url\(\s*['"]?(?!#)|expression\(|javascript:/i;

function isBad(name: string, value: string): boolean {
  if (/^on/i.test(name)) return true;
  if (/^(xlink:)?href$|^src$/i.test(name)) return !/^#/.test(value.trim()) && !/^data:image\/(png|jpeg|gif|webp);base64,/i.test(value.trim());
  return LOADS.test(value);
}
