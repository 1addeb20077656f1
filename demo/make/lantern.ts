import { join } from "node:path";
import { ahead, deliver, type Moment, type Options } from "./deliver";
import { blur, copyImage, over, paste, readImage, readLayer, smearLayer, type Box, type Layer } from "./image";
import { drawMap, FEW_RAYS, trace } from "./pov";
import { placed } from "./warp";

const FRAMES = 90;
/** It turns to and fro through the same few poses, so each is traced once. */
const TURNS = 44;
const turnAt = (n: number) => {
  const k = ((((n + 5) % TURNS) + TURNS) % TURNS) - TURNS / 4;
  return k <= TURNS / 4 ? k : TURNS / 2 - k;
};
const degrees = (k: number) => 9 * Math.sin((2 * Math.PI * k) / TURNS);
const swayAt = (n: number) => 2.3 * Math.exp(-n / 220) * Math.sin((2 * Math.PI * n) / 50.3 + 0.9);
/** The chain crosses from the right, swinging a little; x in pixels of 1280. */
const chainAt = (n: number) => ({ x: 1420 - 25 * (n - 16), lean: 0.05 * Math.sin(n / 9) });

/** Makes the take `lantern`: a strip of tape on a thing that sways and turns, once hidden by a chain. */
export async function makeLantern(o: Options): Promise<void> {
  const width = o.quick ? 160 : 1280;
  const height = o.quick ? 90 : 720;
  const s = width / 1280;
  const list = o.quick ? [0, 40] : Array.from({ length: FRAMES }, (_, i) => i);
  const focal = width / (2 * Math.tan((16 * Math.PI) / 180));
  const distance = 1.42;
  const hook = { x: width / 2, y: height / 2 - (0.1935 * focal) / distance };
  const R = {
    lantern: { x0: Math.floor(470 * s), y0: 0, x1: Math.ceil(812 * s), y1: height } as Box,
    tape: { x0: Math.floor(565 * s), y0: Math.floor(560 * s), x1: Math.ceil(790 * s), y1: Math.ceil(665 * s) } as Box,
    chain: { x0: Math.floor(600 * s), y0: 0, x1: Math.ceil(680 * s), y1: height } as Box,
  };
  await drawMap("lantern-tape", o.raw);
  const shot = async (name: string, declare: Record<string, number>, rect?: Box, alpha = true) => {
    const out = join(o.raw, `${name}.png`);
    await trace({ scene: "lantern.pov", width, height, rect, alpha, rays: FEW_RAYS, declare: { QUICK: o.quick ? 1 : 0, ...declare }, out });
    return out;
  };
  const sharpRoom = await readImage(await shot("room", { PART: 0 }, undefined, false));
  const room = { ...sharpRoom, data: blur(sharpRoom.data, width, height, 3, 15 * s) };
  const hookLayer = await readLayer(await shot("hook", { PART: 4 }));
  const chain = await readLayer(await shot("chain", { PART: 3 }, R.chain), R.chain);
  // the chain is nearer than the focus
  const soft: Layer = { ...chain, data: blur(chain.data, width, height, 3, 1.7 * s), alpha: blur(chain.alpha, width, height, 1, 1.7 * s) };

  const poses = new Map<number, { taped: Layer; bare: Layer; tape: Float32Array }>();
  const pose = async (k: number) => {
    const known = poses.get(k);
    if (known) return known;
    const TURN = degrees(k);
    const taped = await readLayer(await shot(`turn-${k}`, { PART: 1, TURN, TAPE: 1 }, R.lantern), R.lantern);
    const part = await readLayer(await shot(`bare-${k}`, { PART: 1, TURN, TAPE: 0 }, R.tape), R.tape);
    const bare: Layer = { width, height, data: taped.data.slice(), alpha: taped.alpha.slice() };
    paste(bare, part, R.tape);
    for (let y = R.tape.y0; y < R.tape.y1; y++)
      bare.alpha.set(part.alpha.subarray(y * width + R.tape.x0, y * width + R.tape.x1), y * width + R.tape.x0);
    const white = await readLayer(await shot(`tape-${k}`, { PART: 2, TURN, TAPE: 1 }, R.tape), R.tape);
    const made = { taped, bare, tape: Float32Array.from({ length: width * height }, (_, i) => white.data[i * 3]) };
    poses.set(k, made);
    return made;
  };
  /** The middle of the tape in pixels (0 is the picture's left and top edge), by the scene's geometry. */
  const middleOf = (n: number): [number, number] => {
    const a = ((degrees(turnAt(n)) - 14) * Math.PI) / 180;
    const [x, z] = [0.006, -Math.sqrt(0.0742 ** 2 - 0.006 ** 2)];
    const p = { x: x * Math.cos(a) + z * Math.sin(a), z: -x * Math.sin(a) + z * Math.cos(a), y: -0.149 };
    const [px, py] = [width / 2 + (focal * p.x) / (p.z + distance), height / 2 - (focal * p.y) / (p.z + distance)];
    const w = (-swayAt(n) * Math.PI) / 180;
    const [dx, dy] = [px - hook.x, py - hook.y];
    return [hook.x + dx * Math.cos(w) - dy * Math.sin(w), hook.y + dx * Math.sin(w) + dy * Math.cos(w)];
  };
  const hidden: number[] = [];
  const moment = async (n: number): Promise<Moment> => {
    const { taped, bare, tape } = await pose(turnAt(n));
    const angle = (-swayAt(n) * Math.PI) / 180;
    const at = chainAt(n);
    const passing = smearLayer(placed(soft, { angle: 0, about: hook, dx: at.x * s - width / 2, lean: at.lean }), 12 * s);
    const seen = (lantern: Layer) => {
      const im = copyImage(room);
      over(im, placed(lantern, { angle, about: hook, dx: 0, lean: 0 }));
      over(im, hookLayer);
      over(im, passing);
      return im;
    };
    const turned = placed({ width, height, data: new Float32Array(width * height * 3), alpha: tape }, { angle, about: hook, dx: 0, lean: 0 }).alpha;
    let [whole, left] = [0, 0];
    const visible = turned.map((a, i) => {
      whole += a;
      const v = a * (1 - passing.alpha[i]);
      left += v;
      return v;
    });
    if (left < 0.98 * whole) hidden.push(n);
    return { frame: n, shown: seen(taped), clean: seen(bare), mattes: { tape: visible } };
  };
  const round = (v: number) => Number(v.toFixed(3));
  await deliver(
    o,
    {
      name: "lantern",
      width,
      height,
      rate: [24, 1],
      noise: 1.25,
      seed: 33000,
      truth: () => ({
        stillness: { maxShift: 0 },
        track: { middle: list.map((n) => middleOf(n).map(round)), turned: list.map((n) => round(-swayAt(n))), partlyHidden: hidden },
      }),
      keep: { box: { x0: Math.floor(480 * s), y0: Math.floor(500 * s), x1: Math.ceil(850 * s), y1: height } },
      intruders: ["tape"],
      sound:
        "aevalsrc=0.02*(random(0)-0.5)+0.02*exp(-14*mod(t+0.4\\,1.05))*sin(2*PI*2710*t)|0.02*(random(1)-0.5)+0.02*exp(-14*mod(t+0.4\\,1.05))*sin(2*PI*2710*t):s=48000",
      timecode: "11:02:40:00",
    },
    ahead(list.map((n) => () => moment(n))),
  );
}
