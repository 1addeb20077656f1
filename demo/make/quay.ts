import { join } from "node:path";
import { ahead, deliver, type Moment, type Options } from "./deliver";
import { copyImage, over, paste, readImage, readLayer, smear, smearLayer, type Box, type Image, type Layer } from "./image";
import { FEW_RAYS, trace, type Trace } from "./pov";

const FRAMES = 144;
const WATER_RAYS = { side: 2, from: 0.3 };

interface Truck {
  TRUCK: number;
  TX: number;
  TZ: number;
  TDIR: number;
  /** Metres it moves in this frame. */
  speed: number;
  /** Frames with the same pose share one picture. */
  pose: string;
}

/** The loaded truck drives through; the second one comes, stops where the first was, and goes on. */
function trucksAt(n: number): Record<string, Truck> {
  const out: Record<string, Truck> = {};
  const first = (t: number) => -2.2 + 0.155 * t;
  if (first(n) < 6.4) out.loaded = { TRUCK: 1, TX: first(n), TZ: 0.5, TDIR: 1, speed: 0.155, pose: `loaded-${n}` };
  const second = (t: number) => {
    if (t < 73) return 7.05 - 0.15 * (t - 46);
    if (t < 97) return 3 - 0.15 * (t - 73) + (0.15 / 48) * (t - 73) ** 2;
    if (t < 115) return 1.2;
    return 1.2 - 0.5 * 0.0036 * (t - 115) ** 2;
  };
  if (n >= 44)
    out.empty = {
      TRUCK: 2,
      TX: second(n),
      TZ: 1.35,
      TDIR: -1,
      speed: Math.abs(second(n + 0.5) - second(n - 0.5)),
      pose: `empty-${n > 97 && n < 115 ? 97 : n}`,
    };
  return out;
}

/** Thin cloud before the sun: within ±10 %. */
const gainAt = (n: number) => 1 + 0.065 * Math.sin((2 * Math.PI * n) / 131 + 0.4) + 0.033 * Math.sin((2 * Math.PI * n) / 47 + 2);

/** Makes the take `quay`: two fork-lift trucks before water that lives, under light that changes. */
export async function makeQuay(o: Options): Promise<void> {
  const width = o.quick ? 160 : 1280;
  const height = o.quick ? 90 : 720;
  const s = width / 1280;
  const living: Box = { x0: 0, y0: Math.floor(152 * s), x1: width, y1: Math.ceil(446 * s) };
  const list = o.quick ? [0, 100] : Array.from({ length: FRAMES }, (_, i) => i);
  const shot = async (name: string, declare: Record<string, number>, rect?: Box, alpha = false, rays: Trace["rays"] = FEW_RAYS) => {
    const out = join(o.raw, `${name}.png`);
    await trace({ scene: "quay.pov", width, height, rect, alpha, rays, declare: { QUICK: o.quick ? 1 : 0, ...declare }, out });
    return out;
  };
  const still = await readImage(await shot("far", { PART: 4, T: 0 }));
  const quay = await readLayer(await shot("quay", { PART: 5 }, undefined, true));
  const even = await readImage(await shot("even", { PART: 3 }));

  /** How many pixels a metre is at this depth (the camera stands at z = −9.2). */
  const scale = (z: number) => width / (2 * Math.tan((24 * Math.PI) / 180) * (z + 9.2));
  const boxOf = (t: Truck, before: number, behind: number, y0: number, y1: number): Box => {
    const middle = width / 2 + (t.TX - 0.4 + 0.3 * ((t.TZ + 9.2) / 9.2)) * scale(t.TZ);
    const [left, right] = t.TDIR > 0 ? [behind, before] : [before, behind];
    return {
      x0: Math.max(0, Math.floor(middle - left * scale(t.TZ - 0.6))),
      x1: Math.min(width, Math.ceil(middle + right * scale(t.TZ - 0.6))),
      y0: Math.floor(y0 * s),
      y1: Math.ceil(y1 * s),
    };
  };
  const shadowOf = async (t: Truck): Promise<Float32Array> => {
    const ratio = new Float32Array(width * height).fill(1);
    const b = boxOf(t, t.TDIR > 0 ? 6.4 : 2.6, t.TDIR > 0 ? 2.2 : 6.4, 400, 640);
    if (b.x1 <= b.x0) return ratio;
    const { TRUCK, TX, TZ, TDIR } = t;
    const im = await readImage(await shot(`${t.pose}-shadow`, { PART: 2, TRUCK, TX, TZ, TDIR }, b, false, "one"));
    for (let y = b.y0; y < b.y1; y++)
      for (let x = b.x0; x < b.x1; x++) {
        const i = y * width + x;
        ratio[i] = Math.min(1, im.data[i * 3 + 1] / Math.max(1e-3, even.data[i * 3 + 1]));
      }
    return ratio;
  };

  const moment = async (n: number): Promise<Moment> => {
    const far = copyImage(still);
    paste(far, await readImage(await shot(`water-${n}`, { PART: 4, T: n / 24 }, living, false, WATER_RAYS)), living);
    const clean = copyImage(far);
    over(clean, quay);
    let shown: Image = clean;
    const mattes: Record<string, Float32Array | null> = { loaded: null, empty: null };
    const trucks = Object.entries(trucksAt(n)).map(([name, t]) => ({ name, t, b: boxOf(t, 2.35, 1.75, 188, 570) }));
    const inside = trucks.filter((k) => k.b.x1 > k.b.x0);
    if (inside.length) {
      const lit: Layer = { ...quay, data: quay.data.slice() };
      for (const { t } of inside) {
        const ratio = smear(await shadowOf(t), width, height, 1, t.speed * scale(t.TZ) * 0.5);
        for (let i = 0; i < ratio.length; i++) if (ratio[i] < 1) for (let c = 0; c < 3; c++) lit.data[i * 3 + c] *= ratio[i];
      }
      shown = copyImage(far);
      over(shown, lit);
      // the second stands farther away than the first
      for (const { name, t, b } of [...inside].reverse()) {
        const { speed, pose, ...place } = t;
        const roll = ((t.TX * t.TDIR) / 0.31) * (180 / Math.PI);
        const layer = await readLayer(await shot(pose, { PART: 1, ROLL: roll % 360, ...place }, b, true), b);
        const seen = smearLayer(layer, speed * scale(t.TZ) * 0.5);
        over(shown, seen);
        mattes[name] = seen.alpha;
      }
    }
    return { frame: n, shown, clean, mattes, gain: gainAt(n) };
  };
  await deliver(
    o,
    {
      name: "quay",
      width,
      height,
      rate: [24, 1],
      noise: 1.25,
      seed: 21000,
      truth: () => ({ stillness: { maxShift: 0 } }),
      keep: { box: { x0: 0, y0: Math.floor(140 * s), x1: width, y1: Math.ceil(680 * s) }, crf: 8.5 },
      shadow: { crf: 14 },
      intruders: ["loaded", "empty"],
      sound:
        "aevalsrc=0.05*(random(0)-0.5)*(1+0.7*sin(2*PI*0.34*t))+0.03*sin(2*PI*71*t)|0.05*(random(1)-0.5)*(1+0.7*sin(2*PI*0.34*t+0.5))+0.03*sin(2*PI*71*t):s=48000",
      timecode: "10:21:06:00",
    },
    ahead(list.map((n) => () => moment(n))),
  );
}
