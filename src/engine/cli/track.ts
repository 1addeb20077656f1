import { join } from "node:path";
import type { TrackModel } from "../../core/document/track";
import { FREEDOM } from "../../core/follow/models";
import { followRegion } from "../analysis/follow";
import { readSource } from "../render/recipe-file";
import { corners } from "./corners";
import { said, withStore } from "./store";
import { options, Usage, whole } from "./usage";

/** `umber track FILE --at N --region "x,y x,y …" [--from A --to B] [--model …] [--json]` */
export async function trackCommand(args: string[]): Promise<void> {
  const { values, rest } = options(args, { at: "string", region: "string", from: "string", to: "string", model: "string", json: "boolean" });
  if (rest.length !== 1) throw new Usage("track needs one FILE");
  const region = corners("region", values.region);
  const { model } = values;
  if (model !== undefined && !Object.hasOwn(FREEDOM, String(model)))
    throw new Usage(`--model was “${String(model)}”; ${Object.keys(FREEDOM).join(", ")} are allowed`);
  const { frames } = await withStore(async (store, folder) => {
    const index = await readSource(rest[0], undefined, join(folder, "stills"));
    const last = index.info.frames - 1;
    const at = whole("at", values.at ?? "0", 0, last);
    const from = whole("from", values.from ?? "0", 0, at);
    const to = whole("to", values.to ?? String(last), at, last);
    const { width, height } = index.info;
    if (region.some(([x, y]) => x < 0 || y < 0 || x > width || y > height))
      throw new Usage(`--region leaves the picture, which is ${width}×${height}; draw it within`);
    const ask = { at, region, from, to, ...(model === undefined ? {} : { model: model as TrackModel }) };
    return followRegion(store, "take", index, ask, { progress: said("frames followed") });
  });
  if (process.stderr.isTTY) process.stderr.write("\n");
  if (values.json) {
    console.log(JSON.stringify({ frames }, null, 1));
    return;
  }
  const known = frames.filter((f) => "matrix" in f);
  const stops = frames.flatMap((f) => ("stopped" in f ? [`Stopped at frame ${f.f}: ${f.stopped}.`] : []));
  console.log([`Followed on ${known.length} frames, ${known[0].f} to ${known.at(-1)!.f}.`, ...stops].join("\n"));
}
