/** 1234567 → "1.2 MB". */
export function bytes(count: number): string {
  const units = ['B', 'KB', 'MB', 'GB'];
  const step = Math.min(units.length - 1, Math.floor(Math.log10(Math.max(1, count)) / 3));
  return step === 0 ? `${count} B` : `${(count / 1000 ** step).toFixed(1)} ${units[step] ?? ''}`;
}

/** 1 item, 2 items. */
export function many(count: number, one: string, more = `${one}s`): string {
  return `${count} ${count === 1 ? one : more}`;
}

/** A value on one line, shortened to a width. */
export function brief(value: unknown, width = 60): string {
  const line = typeof value === 'string' ? value : JSON.stringify(value);
  return line.length > width ? `${line.slice(0, width - 1)}…` : line;
}

/** A long list on one line: the first few, then how many more. */
export function some(list: readonly string[], shown = 3): string {
  return list.length <= shown ? list.join(', ') : `${list.slice(0, shown).join(', ')} and ${list.length - shown} more`;
}
