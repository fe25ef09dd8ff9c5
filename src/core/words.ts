/** "nextPage_id2" → next, page, id. */
export function wordsOf(name: string): string[] { return name.replace(/(?<=[a-z\d])(?=[A-Z])/g, '_').toLowerCase().split(/[^a-z]+/); }

/** What an English word may be as a plural. */
export function pluralsOf(word: string): string[] { return word.length < 2 ? [] : [`${word}s`, `${word}es`, ...(word.endsWith('y') ? [`${word.slice(0, -1)}ies`] : [])]; }
