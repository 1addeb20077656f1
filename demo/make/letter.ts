import { join } from "node:path";
import { random } from "../../src/core/random";
import { ahead, deliver, type Moment, type Options } from "./deliver";
import { boxAt, copyImage, paste, readImage, readLayer, smooth, type Box, type Image } from "./image";
import { drawMap, FEW_RAYS, trace } from "./pov";

const FRAMES = 60;

/** How the letter lies at a frame, moved a little unevenly, as by hand; null in the last, which shows the empty set. */
function poseAt(n: number): { UP: number; LOW: number; WOBBLE: number; RIG: number } | null {
  if (n === FRAMES - 1) return null;
  const rnd = random(500 + n);
  const hand = () => (rnd() - 0.5) * 2.4;
  const UP = 176 - 163 * smooth(3, 28, n + hand() * 0.12) + (n > 3 && n < 28 ? hand() : 0);
  const LOW = 177 - 166 * smooth(29, 53, n + hand() * 0.12) + (n > 29 && n < 53 ? hand() : 0);
  return { UP, LOW, WOBBLE: n, RIG: n < 29 ? 1 : 2 };
}
/** A lamp that is never quite as bright twice: ±4 %. */
const gainAt = (n: number) => 1 + 0.04 * (2 * random(900 + n)() - 1);

/** Passes from `im` to `under` over `length` pixels up to column `x1`. */
function fadeRight(im: Image, under: Image, x1: number, length: number): void {
  for (let y = 0; y < im.height; y++)
    for (let x = x1 - length; x < x1; x++) {
      const k = smooth(0, length, x1 - x - 0.5);
      for (let i = (y * im.width + x) * 3, end = i + 3; i < end; i++) im.data[i] = under.data[i] + k * (im.data[i] - under.data[i]);
    }
}

/** Makes the take `letter`: stop-motion, the rig in every frame but the last. */
export async function makeLetter(o: Options): Promise<void> {
  const width = o.quick ? 160 : 1600;
  const height = o.quick ? 90 : 900;
  const s = width / 1600;
  const list = o.quick ? [10, 59] : Array.from({ length: FRAMES }, (_, i) => i);
  const box = boxAt(s);
  const R = { letter: box(490, 60, 1160, 760), right: box(700, 40, 1340, 760), left: box(200, 100, 1160, 840) };
  await drawMap("letter-ink", o.raw);
  const shot = async (name: string, declare: Record<string, number>, rect?: Box, alpha = false) => {
    const out = join(o.raw, `${name}.png`);
    await trace({ scene: "letter.pov", width, height, rect, alpha, rays: FEW_RAYS, declare: { QUICK: o.quick ? 1 : 0, ...declare }, out });
    return out;
  };
  const empty = await readImage(await shot("desk", {}));
  const moment = async (n: number): Promise<Moment> => {
    const pose = poseAt(n);
    if (!pose) return { frame: n, shown: empty, clean: empty, mattes: { rig: null }, gain: gainAt(n) };
    const { RIG, ...lies } = pose;
    const clean: Image = copyImage(empty);
    paste(clean, await readImage(await shot(`letter-${n}`, { LETTER: 1, ...lies }, R.letter)), R.letter);
    const beside = RIG === 1 ? R.right : R.left;
    const shown = copyImage(clean);
    paste(shown, await readImage(await shot(`rig-${n}`, { LETTER: 1, ...pose }, beside)), beside);
    const rig = await readLayer(await shot(`matte-${n}`, { MATTE: 1, ...pose }, beside, true), beside);
    // the lower flap's shadow reaches beyond what is traced: it is let run out softly, in both pictures alike
    if (RIG === 2) for (const im of [shown, clean]) fadeRight(im, empty, R.letter.x1, Math.round(130 * s));
    return { frame: n, shown, clean, mattes: { rig: rig.alpha }, gain: gainAt(n) };
  };
  await deliver(
    o,
    {
      name: "letter",
      width,
      height,
      rate: [12, 1],
      noise: 1.0,
      seed: 71000,
      truth: () => ({ stillness: { maxShift: 0 } }),
      keep: { box: box(190, 40, 1350, 850) },
      shadow: true,
      intruders: ["rig"],
      timecode: "00:00:00:00",
    },
    ahead(list.map((n) => () => moment(n))),
  );
}
