/** Elements that would run something, fetch something or lead elsewhere. */
const UNWANTED = new Set(['script', 'noscript', 'iframe', 'object', 'embed', 'link', 'meta', 'base', 'template', 'frame', 'frameset', 'portal']);
const ATTRIBUTES = ['class', 'id', 'style', 'title', 'alt', 'width', 'height', 'colspan', 'rowspan', 'lang', 'dir', 'type', 'placeholder', 'value'];

/** A page of a site as something to look at: nothing in it runs, and nothing is fetched for it. Styles stay, without what they would load. */
export async function cleanPage(text: string): Promise<string> {
  const { default: sanitize } = await import('sanitize-html');
  const clean = sanitize(text, {
    allowedTags: false, allowVulnerableTags: true, allowedAttributes: { '*': ATTRIBUTES }, parseStyleAttributes: false,
    exclusiveFilter: ({ tag }) => UNWANTED.has(tag),
    transformTags: { '*': (tagName, attribs) => ({ tagName, attribs: 'style' in attribs ? { ...attribs, style: withoutLoading(attribs['style'] ?? '') } : attribs }) },
  });
  return clean.replace(/(<style[^>]*>)([^]*?)(<\/style>)/gi, (_all, start: string, css: string, end: string) => start + withoutLoading(css) + end);
}

/** Style rules that load nothing; a rule that is written with escapes could hide it, and goes too. */
function withoutLoading(css: string): string {
  return css.replace(/@import\b[^;]*;?/gi, '').replace(/\b(?:url|image|image-set|src)\s*\([^)]*\)?/gi, 'none').replace(/\\[0-9a-f]/gi, '');
}
