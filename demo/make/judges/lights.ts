import { random } from "../../../src/core/random";
import { clouds } from "./scenes";

/** The light of frame `n`: what R′, G′ and B′ are multiplied by at a place. */
export type Light = (n: number) => (x: number, y: number) => [number, number, number];

const alike = (k: number): [number, number, number] => [k, k, k];

/** How the light of a take goes, by kind. */
export const LIGHTS = {
  still: (): Light => () => () => [1, 1, 1],
  /** Shadows of clouds that travel over the picture. */
  clouds: (seed: number, w: number): Light => {
    const field = clouds(seed, w * 0.6, 2);
    return (n) => (x, y) => alike(1 - 0.22 * Math.min(1, Math.max(0, 2 * field(x + n * 3.2, y + n * 0.7) - 0.5)));
  },
  /** A lamp that is never quite as bright twice. */
  flicker:
    (seed: number): Light =>
    (n) => {
      const k = 1 + 0.06 * (2 * random(seed + n * 17)() - 1);
      return () => alike(k);
    },
  /** Corners that breathe, as a lens does that searches its focus. */
  breathing:
    (_: number, w: number, h: number): Light =>
    (n) => {
      const much = 0.25 + 0.12 * Math.sin(n / 7);
      return (x, y) => alike(1 - much * (((x - w / 2) / w) ** 2 + ((y - h / 2) / w) ** 2) * 2);
    },
  /** A white balance that walks from cool to warm. */
  walking: (): Light => (n) => {
    const t = 0.05 * Math.sin(n / 11);
    return () => [1 + t, 1, 1 - t];
  },
  /** A lamp that is turned down by nearly a third. */
  dimming: (): Light => (n) => {
    const k = 1 - 0.3 * Math.min(1, Math.max(0, (n - 8) / 26));
    return () => [k, k * (1 - 0.02 * (1 - k)), k * (1 - 0.1 * (1 - k))];
  },
} satisfies Record<string, (seed: number, w: number, h: number) => Light>;

export type LightKind = keyof typeof LIGHTS;
