/** The last answer: many rules ask for the words of the same name. */
let known: { readonly name: string; readonly words: readonly string[] } = { name: '', words: [''] };

/** "nextPage_id2" → next, page, id; "itemsperpage" → items, per, page. */
export function wordsOf(name: string): readonly string[] {
  if (known.name !== name) known = { name, words: separated(name) };
  return known.words;
}

function separated(name: string): string[] { return uncamelled(name).replace(PER, '_per_').split(/[^a-z]+/); }
const PER = /per(?=(?:page|post|row|view|slide|screen|load)(?:[^a-z]|$))/g;

/** "nextPage", "next-page" and "next[page]" → next_page; a name that is written so already stays the same text. */
export function snakeCased(name: string): string { return /[A-Z[-]/.test(name) ? uncamelled(name).replaceAll('-', '_').replace(BRACKETS, '_$1') : name; }
/** As the names of fields in a form have them. */
const BRACKETS = /\[([^[\]]+)\]/g;

/** "nextPage2" → next_page2. */
export function uncamelled(name: string): string { return name.replace(/(?<=[a-z\d])(?=[A-Z])/g, '_').toLowerCase(); }

/** What an English word may be as a plural. */
export function pluralsOf(word: string): string[] { return word.length < 2 ? [] : [`${word}s`, `${word}es`, ...(word.endsWith('y') ? [`${word.slice(0, -1)}ies`] : word.endsWith('z') ? [`${word}zes`] : [])]; }

/** Words that end like plurals and are none. */
const ONE = /(?:^|[_-])(?:news|series|species|css|sms|lens|gas|alias|canvas|atlas|bias|basis|axis|analysis|chaos)$/;
/** How a plural ends, and what its one ends with: the first that fits. */
const ENDINGS: readonly (readonly [RegExp, string])[] = [
  [/(?<=mov|cook|(?:^|[_-])[dlpt])ies$/, 'ie'], [/ies$/, 'y'], [/zzes$/, 'z'],
  [/(?<=ss|x|sh|(?<!ca|ni)ch|(?:stat|camp|vir|bon|cens|foc|(?:^|[_-])b)us|alias|canvas|atlas|bias|lens|(?:^|[_-])gas)es$/, ''], [/(?<=[^su]|menu)s$/, ''],
];

/** What one of them is called, where an English word is a plural. */
export function singularOf(word: string): string {
  const [ending, one] = ONE.test(word) ? [] : ENDINGS.find(([end]) => end.test(word)) ?? [];
  return ending === undefined ? word : word.replace(ending, one ?? '');
}

/** Names that say of things only which of them; what they are is said above. */
export const SAYS_WHICH: ReadonlySet<string> = new Set(['selected', 'only', 'except', 'list', 'values', 'include', 'exclude', 'included', 'excluded', 'in', 'not_in']);
