import { ownText } from '../../core/bytes.ts';

/** What the time is on a site, and how its database writes times. */
export class Clock {
  readonly #local: (date: Date) => Date;

  /** `timezone`: a name of the time zone database, or hours before UTC; else this machine's. */
  constructor(timezone = '') { this.#local = localTimes(timezone); }

  /** What a word of a template for new rows stands for, where it is a time. `created`: when the item was made where it comes from, ISO 8601. */
  word(name: string, created: string | undefined): string | undefined {
    const [which, how] = name.split(' ');
    if (which !== 'now' && which !== 'created') return undefined;
    const made = which === 'created' && created !== undefined ? Date.parse(created) : NaN;
    const time = new Date(Number.isNaN(made) ? Date.now() : made);
    if (how === 'seconds') return String(Math.floor(time.getTime() / 1000));
    return how === 'utc' ? written(time) : how === undefined ? written(this.#local(time)) : undefined;
  }
}

/** A time as databases print it, in UTC, or in seconds since 1970; what is none stays out. */
export function utcTime(text: string | null): string | undefined {
  if (text === null) return undefined;
  // Most are of this form, and making a time of each takes long.
  if (/^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|1\d|2[0-8]) (?:[01]\d|2[0-3]):[0-5]\d:[0-5]\d$/.test(text)) return ownText(`${text.slice(0, 10)}T${text.slice(11)}.000Z`);
  if (/^\d{9,10}$/.test(text)) return new Date(Number(text) * 1000).toISOString();
  const time = Date.parse(/^\d{4}-\d{2}-\d{2} \d{2}:\d{2}:\d{2}(\.\d+)?$/.test(text) ? `${text.replace(' ', 'T')}Z` : text);
  return Number.isNaN(time) ? undefined : isoTime(new Date(time));
}

/** Times before the first year and after the last of four digits are none. */
function isoTime(time: Date): string | undefined {
  const text = time.toISOString();
  return text.length === 24 ? text : undefined;
}

function written(time: Date): string { return time.toISOString().slice(0, 19).replace('T', ' '); }

/** Gives the time that has in UTC the digits which `date` has in the zone. */
function localTimes(timezone: string): (date: Date) => Date {
  const hours = timezone.trim() === '' ? NaN : Number(timezone);
  if (Math.abs(hours) <= 24) return (date) => new Date(date.getTime() + hours * 3_600_000);
  const format = formatIn(timezone);
  if (!format) return (date) => new Date(date.getTime() - date.getTimezoneOffset() * 60_000);
  return (date) => {
    const parts = Object.fromEntries(format.formatToParts(date).map(({ type, value }) => [type, Number(value)]));
    return new Date(Date.UTC(parts['year'] ?? 0, (parts['month'] ?? 1) - 1, parts['day'], parts['hour'], parts['minute'], parts['second']));
  };
}

/** Nothing where there is no such zone. */
function formatIn(timeZone: string): Intl.DateTimeFormat | undefined {
  const number = 'numeric';
  try { return timeZone === '' ? undefined : new Intl.DateTimeFormat('en', { timeZone, hourCycle: 'h23', year: number, month: number, day: number, hour: number, minute: number, second: number }); } catch { return undefined; }
}
