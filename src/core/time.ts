/** A time in UTC as ISO 8601 has it: what protocol and files say when something was made. */
export const UTC_TIME = /^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])T(?:[01]\d|2[0-3]):[0-5]\d:[0-5]\d(?:\.\d+)?Z$/;

/** The same for what comes from outside. */
export function isUtcTime(text: unknown): text is string { return typeof text === 'string' && UTC_TIME.test(text); }
