import { random } from "../../../src/core/random";
import { smooth } from "../image";

/** What must go, on one frame: how much of each pixel it covers, its colour, and how much of the light its shadow leaves. */
export interface Seen {
  alpha: Float32Array;
  colour: Float32Array;
  shade: Float32Array | null;
}

export interface Stay {
  seed: number;
  /** First and last frame in view. */
  in: number;
  out: number;
  width: number;
  height: number;
}

type Rgb = [number, number, number];
/** Distance from a point to the line between two others. */
function toLine(x: number, y: number, [ax, ay]: [number, number], [bx, by]: [number, number]): number {
  const [dx, dy] = [bx - ax, by - ay];
  const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(x - ax - t * dx, y - ay - t * dy);
}
const cover = (d: number, r: number, soft = 1) => Math.min(1, Math.max(0, (r - d) / soft + 0.5));

/** Draws by layers: each a cover by place and a colour by place. */
function drawn(
  s: Stay,
  layers: { a: (x: number, y: number) => number; c: (x: number, y: number) => Rgb }[],
  shade?: (x: number, y: number) => number,
): Seen {
  const n = s.width * s.height;
  const out: Seen = { alpha: new Float32Array(n), colour: new Float32Array(n * 3), shade: shade ? new Float32Array(n) : null };
  for (let y = 0, i = 0; y < s.height; y++)
    for (let x = 0; x < s.width; x++, i++) {
      for (const l of layers) {
        const a = l.a(x, y);
        if (a <= 0) continue;
        const c = l.c(x, y);
        for (let k = 0; k < 3; k++) out.colour[i * 3 + k] = a * c[k] + (1 - a) * out.colour[i * 3 + k];
        out.alpha[i] = a + (1 - a) * out.alpha[i];
      }
      if (out.shade) out.shade[i] = shade!(x, y);
    }
  return out;
}

/** How far something has come in, 0 … 1, over the frames it is in view. */
const come = (s: Stay, n: number) => smooth(s.in - 1, s.in + 5, n) * (1 - smooth(s.out - 5, s.out + 1, n));

const INTRUDERS = {
  /** A microphone on a pole that dips in from above. */
  boom(s: Stay, n: number): Seen {
    const rnd = random(s.seed);
    const [w, h] = [s.width, s.height];
    const x0 = w * (0.3 + 0.4 * rnd());
    const lean = w * (0.25 - 0.5 * rnd());
    const sway = 5 * Math.sin(n / 4 + 6 * rnd());
    const y = -20 + come(s, n) * h * (0.3 + 0.1 * rnd());
    const tip: [number, number] = [x0 + sway, y];
    return drawn(s, [
      { a: (x, v) => cover(toLine(x, v, [x0 + lean, y - h * 0.9], tip), 1.7), c: () => [0.08, 0.08, 0.09] },
      { a: (x, v) => cover(toLine(x, v, [tip[0], tip[1] - 9], [tip[0] + 3, tip[1] + 9]), 7, 3), c: (x, v) => { const k = 0.15 + 0.06 * Math.sin(x * 2.1 + v * 1.3); return [k, k, k * 1.05]; } },
    ]); // prettier-ignore
  },
  /** A stand pushed in from the side, with the shadow it throws. */
  stand(s: Stay, n: number): Seen {
    const rnd = random(s.seed);
    const [w, h] = [s.width, s.height];
    const x0 = w * (1.05 - come(s, n) * (0.25 + 0.15 * rnd()));
    const top = h * (0.25 + 0.2 * rnd());
    return drawn(
      s,
      [
        { a: (x, y) => cover(toLine(x, y, [x0, top], [x0, h]), 2.5), c: (x) => (x < x0 ? [0.45, 0.45, 0.47] : [0.16, 0.16, 0.17]) },
        { a: (x, y) => cover(Math.max(Math.abs(x - x0) / 1.6, Math.abs(y - top)), 11), c: () => [0.1, 0.1, 0.1] },
      ],
      (x, y) => 1 - 0.3 * come(s, n) * cover(toLine(x, y, [x0 + 22, top + 14], [x0 + 34, h]), 6, 8),
    );
  },
  /** Somebody who walks through behind the scene's middle, with a shadow on the ground. */
  walker(s: Stay, n: number): Seen {
    const rnd = random(s.seed);
    const [w, h] = [s.width, s.height];
    const x0 = -30 + ((w + 60) * 0.45 * (n - s.in)) / Math.max(1, s.out - s.in) + w * 0.02 * rnd();
    const foot = h * 0.86;
    const tall = h * 0.36;
    const step = Math.sin(n * 0.9) * 7;
    const coat: Rgb = [0.25 + 0.4 * rnd(), 0.2 * rnd() + 0.1, 0.25];
    return drawn(
      s,
      [
        { a: (x, y) => cover(toLine(x, y, [x0, foot - tall * 0.45], [x0 + step, foot]), 3.2), c: () => [0.12, 0.13, 0.2] },
        { a: (x, y) => cover(toLine(x, y, [x0, foot - tall * 0.45], [x0 - step, foot]), 3.2), c: () => [0.1, 0.11, 0.17] },
        {
          a: (x, y) => cover(Math.hypot((x - x0) / 0.55, y - foot + tall * 0.62), tall * 0.24),
          c: (_, y) => [coat[0] + 0.05 * Math.sin(y), coat[1], coat[2]],
        },
        { a: (x, y) => cover(Math.hypot(x - x0, y - foot + tall * 0.93), tall * 0.085), c: () => [0.72, 0.55, 0.45] },
      ],
      (x, y) => 1 - 0.35 * cover(Math.hypot((x - x0 - 16) / 4, y - foot - 2), 5, 3),
    );
  },
  /** A cable that is let down, two pixels wide. */
  cable(s: Stay, n: number): Seen {
    const rnd = random(s.seed);
    const [w, h] = [s.width, s.height];
    const end = come(s, n) * h * 0.75;
    const x0 = w * (0.35 + 0.3 * rnd());
    const at = (y: number) => x0 + 9 * Math.sin(y / 31 + n / 9) * (y / h);
    return drawn(s, [{ a: (x, y) => cover(Math.abs(x - at(y)), 1) * cover(y, end), c: () => [0.06, 0.05, 0.05] }]);
  },
  /** A board held in, bright, that comes and goes by hand. */
  board(s: Stay, n: number): Seen {
    const rnd = random(s.seed);
    const [w, h] = [s.width, s.height];
    const x0 = w * (0.4 + 0.2 * rnd());
    const y0 = h * (1.2 - 0.5 * come(s, n)) + 2 * Math.sin(n * 1.7);
    const turn = 0.2 * Math.sin(n / 6);
    const into = (x: number, y: number) => [
      Math.cos(turn) * (x - x0) + Math.sin(turn) * (y - y0),
      Math.cos(turn) * (y - y0) - Math.sin(turn) * (x - x0),
    ];
    return drawn(s, [
      { a: (x, y) => { const [u, v] = into(x, y); return cover(Math.max(Math.abs(u) - w * 0.08, Math.abs(v) - h * 0.12), 0); }, c: (x, y) => (Math.floor(into(x, y)[1] / 7) % 3 === 0 ? [0.2, 0.22, 0.3] : [0.9, 0.89, 0.84]) },
    ]); // prettier-ignore
  },
} satisfies Record<string, (s: Stay, n: number) => Seen>;

export type IntruderKind = keyof typeof INTRUDERS;

/** An intruder on frame `n`; null while it is out of the picture. */
export const intruderAt = (kind: IntruderKind, s: Stay, n: number): Seen | null => (n < s.in || n > s.out ? null : INTRUDERS[kind](s, n));
