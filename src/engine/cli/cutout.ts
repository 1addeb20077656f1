import { mkdir } from "node:fs/promises";
import { dirname, join } from "node:path";
import { cutOut, overTake } from "../analysis/cut-out";
import { writeWhole } from "../media/index-file";
import { sharp } from "../media/sharp";
import { sequenceName } from "../render/sequence";
import { readSource } from "../render/recipe-file";
import { corners } from "./corners";
import { said, withStore } from "./store";
import { options, Usage, whole } from "./usage";

/** `umber cutout FILE --at N --outline "x,y …" [--from A --to B] --out dir/####.png` */
export async function cutoutCommand(args: string[]): Promise<void> {
  const { values, rest } = options(args, { at: "string", outline: "string", from: "string", to: "string", out: "string" });
  if (rest.length !== 1) throw new Usage("cutout needs one FILE");
  const outline = corners("outline", values.outline);
  const { out } = values;
  if (typeof out !== "string" || !/#.*\.png$/i.test(out))
    throw new Usage("cutout needs --out with # for the frame's number, such as mattes/####.png");
  const png = await sharp();
  let found = 0;
  await withStore(async (store, folder) => {
    const index = await readSource(rest[0], undefined, join(folder, "stills"));
    const { width, height, frames } = index.info;
    const at = whole("at", values.at ?? "0", 0, frames - 1);
    const from = whole("from", values.from ?? "0", 0, at);
    const to = whole("to", values.to ?? String(frames - 1), at, frames - 1);
    if (outline.every(([x, y]) => x < 0 || y < 0 || x > width || y > height))
      throw new Usage(`--outline lies outside the picture, which is ${width}×${height}; draw it round something that is seen`);
    await mkdir(dirname(out), { recursive: true });
    const mattes = await cutOut(store, "take", index, { at, outline, from, to }, { progress: said("frames cut out") });
    found = mattes.filter((m) => m.alpha.some((v) => v > 127)).length;
    const of = new Map(mattes.map((m) => [m.f, m]));
    for (let f = from; f <= to; f++) {
      const m = of.get(f);
      const file = await png(m ? overTake(m, width, height) : new Uint8Array(width * height), { raw: { width, height, channels: 1 } })
        .toColourspace("b-w")
        .png()
        .toBuffer();
      await writeWhole(sequenceName(out, f), file);
    }
  });
  if (process.stderr.isTTY) process.stderr.write("\n");
  console.log(`Seen on ${found} frames; mattes are named by their frames, such as ${sequenceName(out, Number(values.at ?? 0))}.`);
}
