/** Is a changed place one of those that clash, inside one, or around one? */
export function isClash(clashes: readonly string[], at: string): boolean {
  return clashes.some((clash) => clash === at || clash.startsWith(`${at}/`) || at.startsWith(`${clash}/`));
}
