import { PNG } from 'pngjs';

type Colour = readonly [number, number, number];
export interface Scene { width: number; height: number; sky: readonly [Colour, Colour]; sea: readonly [Colour, Colour]; land: Colour; sun?: readonly [number, number, number, Colour]; ferry?: readonly [number, number, number, Colour] }

/** Draws a harbour scene: sky, sun, islands, sea with swell, a ferry. Same scene, same bytes. */
export function drawScene(scene: Scene): Buffer {
  const { width, height } = scene;
  const png = new PNG({ width, height });
  const horizon = Math.round(height * 0.58);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) plot(png, x, y, pixel(scene, x, y, horizon));
  return PNG.sync.write(png, { colorType: 2, deflateLevel: 9 });
}

function pixel(scene: Scene, x: number, y: number, horizon: number): Colour {
  const { width, height, sky, sea, land, sun, ferry } = scene;
  const hull = ferry && ferryColour(x / width, y / height, ferry);
  if (hull) return hull;
  if (y >= horizon) {
    const wave = Math.sin(x / 23 + y / 3) * Math.sin(y / 5 - x / 61);
    return mix(mix(sea[0], sea[1], (y - horizon) / (height - horizon)), [255, 255, 255], wave > 0.86 ? 0.22 : 0);
  }
  const ridge = horizon - height * (0.1 * Math.max(0, Math.sin(x / width * 5.1 + 0.6)) + 0.06 * Math.max(0, Math.sin(x / width * 13 + 2)));
  if (y >= ridge) return mix(land, sea[0], (y - ridge) / height);
  if (sun && Math.hypot(x / width - sun[0], (y / height - sun[1]) * (height / width)) < sun[2]) return sun[3];
  return mix(sky[0], sky[1], y / horizon);
}

/** Hull, deckhouse and funnel, in shares of the picture. */
function ferryColour(x: number, y: number, [left, waterline, size, paint]: readonly [number, number, number, Colour]): Colour | undefined {
  const u = (x - left) / size;
  const v = (waterline - y) / size;
  if (v > 0 && v < 0.16 && u > 0.1 - v * 0.6 && u < 0.92 + v * 0.4) return v < 0.05 ? [30, 34, 44] : paint;
  if (v >= 0.16 && v < 0.3 && u > 0.22 && u < 0.8) return v > 0.2 && v < 0.25 && Math.floor(u * 40) % 3 !== 0 ? [70, 96, 120] : [246, 244, 238];
  if (v >= 0.3 && v < 0.42 && u > 0.46 && u < 0.56) return v > 0.38 ? [30, 34, 44] : paint;
  return undefined;
}

function mix(a: Colour, b: Colour, share: number): Colour {
  return [a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share, a[2] + (b[2] - a[2]) * share];
}

function plot(png: PNG, x: number, y: number, [red, green, blue]: Colour): void {
  png.data.set([Math.round(red), Math.round(green), Math.round(blue), 255], (png.width * y + x) * 4);
}

/** Half the size, each pixel the mean of four. */
export function halve(bytes: Buffer): Buffer {
  const from = PNG.sync.read(bytes);
  const to = new PNG({ width: from.width >> 1, height: from.height >> 1 });
  for (let y = 0; y < to.height; y++) {
    for (let x = 0; x < to.width; x++) {
      const corners = [0, 1].flatMap((dy) => [0, 1].map((dx) => (from.width * (2 * y + dy) + 2 * x + dx) * 4));
      plot(to, x, y, [0, 1, 2].map((c) => corners.reduce((sum, at) => sum + (from.data[at + c] as number), 0) / 4) as unknown as Colour);
    }
  }
  return PNG.sync.write(to, { colorType: 2, deflateLevel: 9 });
}
