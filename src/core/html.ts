import escape from 'escape-html';

/** HTML that is already safe. */
export class Html {
  constructor(readonly text: string) {}
}

/** Builds HTML; every value that is not `Html` is escaped. */
export function html(parts: TemplateStringsArray, ...values: (Html | Html[] | string | number | undefined)[]): Html {
  return new Html(parts.map((part, i) => part + shown(values[i])).join(''));
}

function shown(value: Html | Html[] | string | number | undefined): string {
  if (value === undefined) return '';
  if (value instanceof Html) return value.text;
  return Array.isArray(value) ? value.map((one) => one.text).join('') : escape(visible(String(value)));
}

/** Characters that turn the direction of writing, and control characters, are shown as escapes: what is read is what is there. */
function visible(text: string): string {
  // eslint-disable-next-line no-control-regex -- control characters are what this is about
  return text.replace(/[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]/g, (char) => `\\u${char.charCodeAt(0).toString(16).padStart(4, '0')}`);
}
