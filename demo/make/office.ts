import { join } from "node:path";
import { ahead, deliver, type Moment, type Options } from "./deliver";
import { copyImage, over, paste, readImage, readLayer, smear, smearLayer, type Box, type Image } from "./image";
import { drawMap, FEW_RAYS, trace } from "./pov";
import { cutAt, scaledLayer, scaledPlane } from "./warp";

const FRAMES = 120;
const FRAMES_B = 50;
/** What the second take differs by: pixels its picture lies to the right and down, and a third of a stop in code values. */
const B = { x: 1.37, y: -0.64, gain: Math.pow(2, -1 / 3 / 2.2) };
/** The trolley has been given a push, and slows down a little. */
const trolleyAt = (n: number) => -3.05 + 0.084 * (n - 18) - 0.00009 * (n - 18) ** 2;
const DEPTH = 4.4;
const tan25 = Math.tan((25 * Math.PI) / 180);

/** Makes the takes `office`, in which a stepladder was left behind, and `office-b`, the same set-up without it. */
export async function makeOffice(o: Options): Promise<void> {
  const width = o.quick ? 160 : 1920;
  const height = o.quick ? 90 : 1080;
  const s = width / 1920;
  const list = o.quick ? [0, 60] : Array.from({ length: FRAMES }, (_, i) => i);
  // what moves is blurred by the shutter, and is traced at two thirds of the size
  const small = { width: Math.round((width * 2) / 3), height: Math.round((height * 2) / 3) };
  const boxIn =
    (at: { width: number; height: number }) =>
    (x0: number, y0: number, x1: number, y1: number): Box => {
      const r = at.width / 1920;
      return {
        x0: Math.min(at.width, Math.max(0, Math.floor(x0 * r))),
        y0: Math.floor(y0 * r),
        x1: Math.min(at.width, Math.max(0, Math.ceil(x1 * r))),
        y1: Math.min(at.height, Math.ceil(y1 * r)),
      };
    };
  const box = boxIn({ width, height });
  const smallBox = boxIn(small);
  const R = { ladder: box(820, 130, 1920, 1080), glass: box(1210, 200, 1345, 530) };
  await drawMap("office-note", o.raw);
  const rad = join(o.raw, "office.rad");
  const quick = o.quick ? 1 : 0;
  const still = async (name: string, LADDER: number, mode: "save" | "load", rect?: Box) => {
    const out = join(o.raw, `${name}.png`);
    const rays = { side: 3, from: 0.15 };
    await trace({
      scene: "office.pov",
      width,
      height,
      rect,
      rays,
      declare: { QUICK: quick, LADDER },
      radiosity: o.quick ? undefined : { file: rad, mode },
      out,
    });
    return readImage(out);
  };
  const clean = await still("clean", 0, "save");
  const left = copyImage(clean);
  paste(left, await still("ladder", 1, "load", R.ladder), R.ladder);
  const part = async (name: string, declare: Record<string, number>, rect?: Box, alpha = true, at: { width: number; height: number } = small) => {
    const out = join(o.raw, `${name}.png`);
    await trace({ scene: "office.pov", ...at, rect, alpha, rays: FEW_RAYS, declare: { QUICK: quick, ...declare }, out });
    return out;
  };
  const ladder = (await readLayer(await part("ladder-alone", { PART: 4, LADDER: 1 }, R.ladder, true, { width, height }), R.ladder)).alpha;
  const mirror = new Float32Array(width * height);
  for (let y = R.glass.y0; y < R.glass.y1; y++)
    for (let x = R.glass.x0; x < R.glass.x1; x++) {
      const i = y * width + x;
      const d = Math.max(...[0, 1, 2].map((c) => Math.abs(left.data[i * 3 + c] - clean.data[i * 3 + c])));
      mirror[i] = (1 - ladder[i]) * Math.min(1, Math.max(0, (d - 0.006) * 60));
    }
  const even = await readImage(await part("even", { PART: 3 }, undefined, false));

  const moment = async (n: number): Promise<Moment> => {
    const TX = trolleyAt(n);
    const middle = 960 + ((TX - 0.15) * 1920) / (2 * tan25 * DEPTH);
    const rect = smallBox(middle - 470, 540, middle + 450, 1080);
    if (rect.x1 <= rect.x0) return { frame: n, shown: left, clean, mattes: { ladder, mirror } };
    const speed = (((trolleyAt(n + 0.5) - trolleyAt(n - 0.5)) * 1920) / (2 * tan25 * DEPTH)) * s * 0.5;
    const ROLL = (((TX / 0.095) * 180) / Math.PI) % 72;
    const trolley = smearLayer(scaledLayer(await readLayer(await part(`trolley-${n}`, { PART: 1, TX, ROLL }, rect), rect), width, height), speed);
    const floor = smallBox(0, 870, 1920, 1080);
    const dim = await readImage(await part(`shadow-${n}`, { PART: 2, TX }, floor, false));
    const lost = new Float32Array(small.width * small.height).fill(1);
    for (let i = floor.y0 * small.width; i < lost.length; i++) lost[i] = Math.min(1, dim.data[i * 3 + 1] / Math.max(1e-3, even.data[i * 3 + 1]));
    const ratio = smear(scaledPlane(lost, small, width, height), width, height, 1, speed);
    const seen = (under: Image) => {
      const im = copyImage(under);
      for (let i = 0; i < ratio.length; i++) if (ratio[i] < 1) for (let c = 0; c < 3; c++) im.data[i * 3 + c] *= ratio[i];
      over(im, trolley);
      return im;
    };
    return {
      frame: n,
      shown: seen(left),
      clean: seen(clean),
      mattes: { ladder: ladder.map((a, i) => a * (1 - trolley.alpha[i])), mirror: mirror.map((a, i) => a * (1 - trolley.alpha[i])) },
    };
  };
  const sound =
    "aevalsrc=0.012*(random(0)-0.5)+0.02*exp(-60*mod(t\\,0.5))*sin(2*PI*2900*t)|0.012*(random(1)-0.5)+0.02*exp(-60*mod(t\\,0.5))*sin(2*PI*2900*t):s=48000";
  const common = { width, height, rate: [25, 1] as [number, number], noise: 1.1, bitrate: "9M", sound };
  await deliver(
    o,
    {
      ...common,
      name: "office",
      seed: 51000,
      truth: () => ({ stillness: { maxShift: 0 } }),
      keep: { box: R.ladder },
      shadow: true,
      intruders: ["ladder", "mirror"],
      timecode: "09:40:12:00",
    },
    ahead(list.map((n) => () => moment(n))),
  );
  const moved: Image = { width, height, data: cutAt(clean.data, clean, -B.x * s, -B.y * s, width, height, 3) };
  const again = async function* (): AsyncGenerator<Moment> {
    for (let n = 0; n < (o.quick ? 2 : FRAMES_B); n++) yield { frame: n, shown: moved, clean: moved, mattes: {}, gain: B.gain };
  };
  await deliver(
    o,
    {
      ...common,
      name: "office-b",
      seed: 61000,
      bitrate: "6M",
      truth: () => ({ against: { take: "office", shift: [B.x, B.y], gain: Number(B.gain.toFixed(5)) }, stillness: { maxShift: 0 } }),
      intruders: [],
      timecode: "09:52:30:00",
    },
    again(),
  );
}
