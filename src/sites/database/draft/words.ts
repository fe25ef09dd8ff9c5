/** A text as the name of a kind. */
export function slug(text: string): string { return text.toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-+|-+$/g, '') || 'other'; }

/** A text as YAML takes it for a text. */
export function word(text: string): string { return /^[A-Za-z_][\w./-]*$/.test(text) && !/^(yes|no|on|off|true|false|null|y|n)$/i.test(text) ? text : JSON.stringify(text); }

/** A path as YAML takes it for a text. */
export function quotedPath(path: string): string { return /[[\]{},'"]/.test(path) ? `'${path}'` : path; }

/** The members of a YAML map on one line. */
export function pairs(map: Readonly<Record<string, string>>): string { return `{ ${Object.entries(map).map(([name, text]) => `${name}: ${text}`).join(', ')} }`; }
