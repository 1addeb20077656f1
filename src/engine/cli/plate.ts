import { join } from "node:path";
import { type Area, buildPlate } from "../analysis/build";
import { writeWhole } from "../media/index-file";
import { framePng } from "../media/stills";
import { readSource } from "../render/recipe-file";

import { Usage, options, whole } from "./usage";
import { said, withStore } from "./store";

/** `umber plate FILE --out plate.png …` */
export async function plateCommand(args: string[]): Promise<void> {
  const { values, rest } = options(args, { out: "string", frame: "string", from: "string", to: "string", averaged: "boolean" });
  if (rest.length !== 1) throw new Usage("plate needs one FILE");
  if (typeof values.out !== "string" || !/\.png$/i.test(values.out)) throw new Usage("plate needs --out plate.png");
  const many = values.from !== undefined || values.to !== undefined;
  if (many && values.frame !== undefined) throw new Usage("plate takes either --frame or --from and --to");
  const top = 100_000_000;
  const n = whole("frame", values.frame ?? "0", 0, top);
  const png = await withStore(async (store, folder) => {
    const index = await readSource(rest[0], undefined, join(folder, "stills"));
    const last = index.info.frames - 1;
    if (n > last) throw new Usage(`--frame was ${n}; “${rest[0]}” has frames 0 to ${last}`);
    if (!many) return framePng(await store.frame("take", index, n), index.info.colour);
    const from = whole("from", values.from ?? "0", 0, last);
    const to = whole("to", values.to ?? String(last), from, last);
    const stretch = { in: from, out: to, average: values.averaged === true };
    const { frame, info } = await buildPlate(store, "take", index, stretch, null, null, { progress: said("steps") });
    if (process.stderr.isTTY) process.stderr.write("\n");
    const most = info.used.slice(0, 4).map(([f, share]) => `frame ${f} ${(100 * share).toFixed(0)} %`);
    process.stderr.write(`Made of ${info.used.length} frames: ${most.join(", ")}${info.used.length > 4 ? ", …" : ""}.\n`);
    const where = (areas: Area[]) => areas.map(([x, y, w, h]) => `${w}×${h} at ${x}, ${y}`).join("; ");
    if (info.neverAreas.length) process.stderr.write(`Never clean, still to be retouched: ${where(info.neverAreas)}.\n`);
    if (info.doubtAreas.length) process.stderr.write(`Two things are seen for a while each, look which is the ground: ${where(info.doubtAreas)}.\n`);
    return framePng(frame, index.info.colour);
  });
  await writeWhole(values.out, png);
}
