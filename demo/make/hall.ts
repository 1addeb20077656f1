import { join } from "node:path";
import { ahead, deliver, type Moment, type Options } from "./deliver";
import { average, boxAt, copyImage, paste, readImage, smooth, type Box, type Image } from "./image";
import { drawMap, trace } from "./pov";

const FRAMES = 96;

/** Where the boom hangs at time `t` (frames), or null while it is out of the picture. */
function boomAt(t: number): { BX: number; BY: number } | null {
  if (t < 29.5 || t > 71) return null;
  const down = smooth(29.5, 40, t) * (1 - smooth(60, 71, t));
  return { BX: 0.34 - 0.17 * down + 0.012 * Math.sin(t / 5), BY: 2.66 - 0.37 * down + 0.008 * Math.sin(t / 3.3 + 1) };
}
const moving = (n: number) => n < 40 || n > 60;
const clockAt = (n: number) => Math.floor(n / 24) - (n % 24 === 0 && n > 0 ? 0.45 : 0);
const signAt = (n: number) => 3.4 * Math.sin((2 * Math.PI * n) / 41 + 0.6) * Math.exp(-n / 160);

/** Makes the take `hall`: the film as the camera saw it, and what is true about it. */
export async function makeHall(o: Options): Promise<void> {
  const width = o.quick ? 160 : 1280;
  const height = o.quick ? 90 : 720;
  const s = width / 1280;
  const box = boxAt(s);
  const R = { boom: box(380, 0, 1016, 410), clock: box(730, 112, 872, 254), sign: box(1016, 200, 1150, 330) };
  const list = o.quick ? [0, 50] : Array.from({ length: FRAMES }, (_, i) => i);
  for (const m of ["hall-slip", "hall-sign"]) await drawMap(m, o.raw);
  const rad = join(o.raw, "hall.rad");
  const shot = (name: string, declare: Record<string, number>, rect?: Box, mode: "save" | "load" = "load") => {
    const out = join(o.raw, `${name}.png`);
    return trace({
      scene: "hall.pov",
      width,
      height,
      rect,
      declare: { QUICK: o.quick ? 1 : 0, ...declare },
      radiosity: o.quick ? undefined : { file: rad, mode },
      out,
    }).then(() => out);
  };

  const base = await readImage(await shot("base", { CLOCK: 0, SIGN: signAt(0) }, undefined, "save"));
  const clean = async (n: number): Promise<Image> => {
    const im = copyImage(base);
    paste(im, await readImage(await shot(`clock-${clockAt(n).toFixed(2)}`, { CLOCK: clockAt(n), SIGN: 0 }, R.clock)), R.clock);
    paste(im, await readImage(await shot(`sign-${n}`, { SIGN: signAt(n) }, R.sign)), R.sign);
    return im;
  };
  const withBoom = async (n: number, under: Image): Promise<{ picture: Image; matte: Image | null }> => {
    const times = moving(n) ? [n, n + 0.3] : [n];
    const pictures: Image[] = [];
    const mattes: Image[] = [];
    for (const t of times) {
      const at = boomAt(t);
      const im = copyImage(under);
      if (at) {
        paste(im, await readImage(await shot(`boom-${t.toFixed(1)}`, { BOOM: 1, CLOCK: clockAt(n), ...at }, R.boom)), R.boom);
        mattes.push(await readImage(await shot(`matte-${t.toFixed(1)}`, { BOOM: 1, BOOMONLY: 1, ...at })));
      }
      pictures.push(im);
    }
    while (mattes.length && mattes.length < times.length) mattes.push({ ...mattes[0], data: new Float32Array(mattes[0].data.length) });
    return { picture: average(pictures), matte: mattes.length ? average(mattes) : null };
  };

  const moment = async (n: number): Promise<Moment> => {
    const under = await clean(n);
    const { picture, matte } = await withBoom(n, under);
    const alpha = matte && Float32Array.from({ length: width * height }, (_, i) => matte.data[i * 3]);
    return { frame: n, shown: picture, clean: under, mattes: { boom: alpha } };
  };
  const tick = (k: number) => `${k}*exp(-90*mod(t\\,1))*sin(2*PI*1850*t)+0.012*sin(2*PI*50*t)`;
  await deliver(
    o,
    {
      name: "hall",
      width,
      height,
      rate: [24, 1],
      noise: 1.25,
      seed: 7000,
      truth: () => ({ stillness: { maxShift: 0 } }),
      keep: { box: { x0: 0, y0: 0, x1: width, y1: height } },
      shadow: true,
      intruders: ["boom"],
      sound: `aevalsrc=${tick(0.1)}+0.02*(random(0)-0.5)|${tick(0.08)}+0.02*(random(1)-0.5):s=48000`,
      timecode: "10:04:20:00",
    },
    ahead(list.map((n) => () => moment(n))),
  );
}
