/** `#rgb` or `#rrggbb` as red, green and blue from 0 to 255; alpha is left out of account. */
export function rgbOf(colour: string): [number, number, number] | undefined {
  const found = /^#([0-9a-f]{3,4}|[0-9a-f]{6}|[0-9a-f]{8})$/i.exec(colour)?.[1];
  if (found === undefined) return undefined;
  const long = found.length < 6 ? Array.from(found, (digit) => digit + digit).join('') : found;
  return [0, 2, 4].map((at) => parseInt(long.slice(at, at + 2), 16)) as [number, number, number];
}

/** Contrast of two colours from 1 to 21 (WCAG 2.2, "contrast ratio" of relative luminances in sRGB). */
export function contrast(a: [number, number, number], b: [number, number, number]): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

function luminance(rgb: [number, number, number]): number {
  const [r, g, b] = rgb.map((part) => { const share = part / 255; return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4; }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}
