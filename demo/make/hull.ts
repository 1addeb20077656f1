import { join } from "node:path";
import { ahead, deliver, type Moment, type Options } from "./deliver";
import { copyImage, paste, readImage, type Box, type Image } from "./image";
import { drawMap, trace } from "./pov";
import { cutAt } from "./warp";

const FRAMES = 72;
/** How far the picture has moved since the first frame, in pixels of 1280: a tripod that gives way, never quite evenly. */
export function driftAt(n: number): [number, number] {
  const u = n / (FRAMES - 1);
  const wander = (k: number) => Math.sin(n / 9 + k) - Math.sin(k);
  return [-3 * u ** 1.3 + 0.09 * wander(0.4), 0.9 * u * u + 0.07 * wander(1.9)];
}

/** Makes the take `hull`: a chalk mark on plain paint, and a camera that drifts. */
export async function makeHull(o: Options): Promise<void> {
  const width = o.quick ? 160 : 1280;
  const height = o.quick ? 90 : 720;
  const s = width / 1280;
  // a still with room round it, out of which every frame is cut at its own place
  const room = { x: Math.round(40 * s), y: Math.round(30 * s) };
  const big = { width: width + 2 * room.x, height: height + 2 * room.y };
  const ANGLE = (2 * Math.atan((Math.tan((19 * Math.PI) / 180) * big.width) / width) * 180) / Math.PI;
  const list = o.quick ? [0, 71] : Array.from({ length: FRAMES }, (_, i) => i);
  const chalk: Box = { x0: Math.floor(530 * s), y0: Math.floor(310 * s), x1: Math.ceil(900 * s), y1: Math.ceil(510 * s) };
  await drawMap("hull-chalk", o.raw);
  const still = async (name: string, declare: Record<string, number>, rect?: Box) => {
    const out = join(o.raw, `${name}.png`);
    await trace({ scene: "hull.pov", ...big, rect, rays: { side: 3, from: 0.15 }, declare: { QUICK: o.quick ? 1 : 0, ANGLE, ...declare }, out });
    return readImage(out);
  };
  const clean = await still("clean", { CHALK: 0 });
  const marked = copyImage(clean);
  paste(marked, await still("chalk", { CHALK: 1 }, chalk), chalk);
  const matte = await still("matte", { PART: 1 });
  const alpha = Float32Array.from({ length: big.width * big.height }, (_, i) => matte.data[i * 3]);
  const moment = async (n: number): Promise<Moment> => {
    const [dx, dy] = driftAt(n).map((d) => d * s);
    const cut = (data: Float32Array, channels: number) => cutAt(data, big, room.x - dx, room.y - dy, width, height, channels);
    const view = (im: Image): Image => ({ width, height, data: cut(im.data, 3) });
    return { frame: n, shown: view(marked), clean: view(clean), mattes: { chalk: cut(alpha, 1).map((a) => Math.max(0, a)) } };
  };
  await deliver(
    o,
    {
      name: "hull",
      width,
      height,
      rate: [24, 1],
      noise: 1.25,
      seed: 43000,
      truth: () => ({ stillness: { shift: list.map((n) => driftAt(n).map((d) => Number(d.toFixed(4)))) } }),
      keep: { box: { x0: Math.floor(480 * s), y0: Math.floor(270 * s), x1: Math.ceil(870 * s), y1: Math.ceil(490 * s) } },
      intruders: ["chalk"],
      sound: "aevalsrc=0.04*(random(0)-0.5)*(1+0.8*sin(2*PI*0.4*t))|0.04*(random(1)-0.5)*(1+0.8*sin(2*PI*0.4*t+0.4)):s=48000",
      timecode: "11:30:00:00",
    },
    ahead(list.map((n) => () => moment(n))),
  );
}
