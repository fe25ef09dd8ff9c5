/**
 * Ids that a machine made up: UUIDs (RFC 9562), with or without hyphens, and ULIDs. No two things have the same one, so that they say by
 * themselves what they mean, wherever they stand.
 */
const FORM = '[0-9a-f]{8}(-?)(?:[0-9a-f]{4}\\1){3}[0-9a-f]{12}|[0-7][0-9A-HJKMNP-TV-Z]{25}';
const WHOLE = new RegExp(`^(?:${FORM})$`, 'i');

/** Every id of such a form in a text. */
export const MADE_IDS = new RegExp(`(?<![0-9A-Za-z])(?:${FORM})(?![0-9A-Za-z])`, 'gi');

export function isMadeId(text: string): boolean { return WHOLE.test(text); }
