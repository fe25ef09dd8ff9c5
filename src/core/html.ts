import escape from 'escape-html';
import { clean } from './clean.ts';

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
  return Array.isArray(value) ? value.map((one) => one.text).join('') : escape(clean(String(value), true));
}
