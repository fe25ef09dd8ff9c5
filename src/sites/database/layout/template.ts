/** What can stand in the braces of a template. */
export type Filling = (name: string) => string | undefined;

/** Fills `{name}` and `{a|b}`; what nothing fills becomes empty. */
export function fill(template: string, filling: Filling): string {
  return template.replace(/\{([^{}]+)\}/g, (_all, names: string) => names.split('|').map((name) => filling(name.trim())).find((text) => text !== undefined && text !== '') ?? '');
}

/** What a template asks for. */
export function namesIn(template: string): string[] { return [...template.matchAll(/\{([^{}]+)\}/g)].flatMap((found) => (found[1] ?? '').split('|').map((name) => name.trim())); }

/** A pattern such as `theme_{name}` as an expression; parts in braces are captured, the last one takes what it can. */
export function capturing(pattern: string): (text: string) => Record<string, string> | undefined {
  const names: string[] = [];
  const source = pattern.split(/(\{\w+\})/).map((piece) => {
    const name = /^\{(\w+)\}$/.exec(piece)?.[1];
    if (name === undefined) return piece.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
    names.push(name);
    return '(.+)';
  }).join('');
  const expression = new RegExp(`^${source}$`, 's');
  return (text) => {
    const found = expression.exec(text);
    return found ? Object.fromEntries(names.map((name, i) => [name, found[i + 1] ?? ''])) : undefined;
  };
}
