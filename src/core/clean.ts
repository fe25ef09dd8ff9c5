/**
 * Makes text from a site or a file harmless in a terminal, and plain to see on a page: control characters (C0, C1, DEL) and characters that turn the direction
 * of writing are shown as escapes. Line ends and tabs stay where `lines` says so.
 */
export function clean(text: string, lines = false): string {
  // eslint-disable-next-line no-control-regex -- control characters are what this is about
  return text.replace(/[\u0000-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]/g, (char) => (lines && (char === '\n' || char === '\t') ? char : `\\u${char.charCodeAt(0).toString(16).padStart(4, '0')}`));
}
