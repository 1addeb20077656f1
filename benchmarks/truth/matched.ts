import { createHash } from "node:crypto";
import { mkdirSync, mkdtempSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { PatchLayer } from "../../src/core/document/layer";
import type { Recipe } from "../../src/core/document/recipe";
import { grainText } from "../../src/core/match/grain";
import { proposeMatch } from "../../src/core/match/proposal";
import { grainOf } from "../../src/engine/analysis/grain";
import { surveyTake } from "../../src/engine/analysis/survey";
import { FrameStore } from "../../src/engine/media/frame-store";
import { ingest } from "../../src/engine/media/ingest";
import { parseRecipe } from "../../src/recipe/schema";
import { file } from "../measure";

/** A recipe whose patches are matched as new ones are by themselves; the profile is written beside it, where the command line looks for it. */
export async function matched(recipe: unknown, folder: string): Promise<Recipe> {
  const out = structuredClone(parseRecipe(recipe)) as Recipe & { profiles?: Record<string, unknown> };
  const { take, in: from, out: to } = out.shot;
  const index = await ingest(out.takes[take].path!, {});
  const survey = await surveyTake(index);
  const store = new FrameStore(mkdtempSync(file("cache-")), 2 ** 30);
  const grain = await grainOf(store, "t", index, { from, to }, {});
  const layers = out.intruders.flatMap((i) => i.layers).filter((l): l is PatchLayer => l.kind === "patch");
  const wanted = layers.map((l) => ({ l, p: proposeMatch(l, take, survey.light) }));
  for (const { l, p } of wanted) {
    if (p.light) Object.assign(l, { light: { by: p.light.by } });
    if (p.grain && grain) Object.assign(l, { grain: { profile: "g" } });
  }
  if (!grain || !wanted.some(({ p }) => p.grain)) return out;
  const text = grainText(grain);
  const hash = createHash("sha256").update(text).digest("hex");
  mkdirSync(join(folder, "measured"), { recursive: true });
  writeFileSync(join(folder, "measured", hash), text);
  return { ...out, profiles: { g: { name: "The take's own", data: hash } } } as Recipe;
}
