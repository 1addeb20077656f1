/** How often the proof calls a good patch faulty, and misses what is wrong, by recipes of which it is known what is wrong with them. */
import { readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { JUDGES } from "../../demo/make/judges/list";
import type { Recipe } from "../../src/core/document/recipe";
import type { Proof } from "../../src/core/proof/finding";
import { prove } from "../../src/engine/analysis/prove";
import { FrameStore } from "../../src/engine/media/frame-store";
import { resolvePictures, resolveTakes } from "../../src/engine/render/recipe-file";
import type { TakeFile } from "../../src/engine/render/spec";
import { file, type Row } from "../measure";
import { judged } from "../truth/judges";
import { matched } from "../truth/matched";
import type { Known } from "../truth/truth";
import { leftOut, type Told } from "./left-out";
import { BOOM, makeStreet, STREETS, streetCases, streetRecipe } from "./streets";
import { type Case, casesOf } from "./wrong";

/** How far the judges' masks are wider than what is hidden. */
const ROOM = 5;

/** What the proof says of a recipe. @param path the file it counts its paths from @param known its takes; what is new is the shot's film */
async function proofOf(recipe: Recipe, path: string, known: Record<string, TakeFile>, store: FrameStore): Promise<Proof> {
  const film = known[recipe.shot.take];
  const same = (t: string) => known[t] ?? (recipe.takes[t].path === recipe.takes[recipe.shot.take].path ? film : undefined);
  const fresh = Object.keys(recipe.takes).some((t) => !same(t)) ? await resolveTakes(recipe, path, file("stills")) : {};
  const takes = Object.fromEntries(Object.keys(recipe.takes).map((t) => [t, same(t) ?? fresh[t]]));
  return prove({ recipe, takes, pictures: await resolvePictures(recipe, path, takes, store) }, store, {});
}

/** σ of a sensor's noise from which grain is seen once it was coded, 8-bit codes. */
const GRAIN_SEEN = 3;
/** Pixels of a thing that are seen at least, before it counts as there. */
const THERE = 64;

/** The first and the last frame in which a thing is there. */
function seenIn(known: Known): { in: number; out: number } {
  const list = Array.from({ length: known.frames }, (_, n) => n);
  let n = 0;
  const seen: number[] = [];
  for (const m of known.mattes(list, known.known)) {
    if (m.reduce((s, v) => s + Number(v > 100), 0) >= THERE) seen.push(n);
    n++;
  }
  return { in: Math.min(...seen), out: Math.max(...seen) };
}

interface Outcome extends Told {
  what: string;
  wanted: string;
  told: string;
  right: boolean;
}

/** All cases of a good recipe, with what is said of each. */
async function outcomes(
  take: string,
  path: string,
  room: number,
  tight: { in: number; out: number },
  noise: number,
  more: (good: Recipe) => Case[] = () => [],
): Promise<Outcome[]> {
  const good = JSON.parse(readFileSync(path, "utf8")) as Recipe;
  const store = new FrameStore(join(dirname(path), `frames-${take}`), 2 ** 31);
  const takes = await resolveTakes(good, path, file("stills"));
  const { index } = takes[good.shot.take];
  const out: Outcome[] = [];
  // grain that is fainter than is seen is no fault when it stands still
  const faint = (name: string) => name.includes("grain") && noise < GRAIN_SEEN;
  const asked = new RegExp(process.env.CASES ?? "");
  const cases = [...casesOf(good, room, tight, index.info.colour.range === "full"), ...more(good)];
  for (const c of cases.filter((x) => !faint(x.name) && asked.test(x.name))) {
    const proof = await proofOf(c.recipe, path, takes, store);
    const kinds = [...new Set(proof.findings.map((f) => f.kind))];
    const right = c.kinds.length ? kinds.some((k) => c.kinds.includes(k)) : kinds.length === 0;
    const told = proof.findings.map((f) => `${f.kind} ${f.in}–${f.out} ${f.value.toFixed(2)}/${f.limit.toFixed(2)}`).join("; ");
    const times: Told["times"] = {};
    for (const f of proof.findings) times[f.kind] = Math.max(times[f.kind] ?? 0, f.value / f.limit);
    const wanted = c.kinds.join(" or ") || "nothing";
    out.push({ take, what: c.name, kinds: c.kinds, times, wanted, told: `${proof.verdict}${told && `: ${told}`}`, right });
    if (process.env.SHOW) console.log(right ? "ok " : "NO ", take, "|", c.name, "|", out[out.length - 1].told);
  }
  return out;
}

/** The row of the table: judges alone, since nothing was set by them. */
export async function proof(): Promise<Row[]> {
  const names = process.env.TAKES?.split(",") ?? JUDGES.map((j) => j.name);
  const all: Outcome[] = [];
  for await (const { name, known, recipe } of judged(names))
    all.push(...(await outcomes(name, recipe, ROOM, seenIn(known), JUDGES.find((j) => j.name === name)!.noise)));
  for (const s of STREETS.filter((x) => !process.env.TAKES || names.includes(x.name))) {
    const { film, clean } = makeStreet(s, dirname(file("x")));
    const path = file(`${s.name}.json`);
    writeFileSync(path, JSON.stringify(await matched(streetRecipe(s, film), dirname(path))));
    all.push(...(await outcomes(s.name, path, 5, BOOM, s.noise, (good) => streetCases(good, clean))));
  }
  const kinds = [...new Set(all.map((o) => o.what))];
  console.table(kinds.map((what) => ({ what, right: all.filter((o) => o.what === what && o.right).length, of: all.filter((o) => o.what === what).length }))); // prettier-ignore
  // the limits in times of those that stand, and what they do on the take they were not set by
  console.table(leftOut(all));
  writeFileSync(new URL("last-cases.json", import.meta.url), JSON.stringify(all, null, 1));
  const good = all.filter((o) => o.what === "good");
  const wrong = all.filter((o) => o.what !== "good");
  const share = (list: Outcome[]) => `${list.filter((o) => o.right).length} of ${list.length}`;
  return [
    {
      what: "Proof: good patches called faulty by nothing",
      ours: share(good),
      reach: "95 %",
      judge: "known recipes",
      ok: good.every((o) => o.right),
    },
    { what: "Proof: wrong patches found by their kind", ours: share(wrong), reach: "all", judge: "known recipes", ok: wrong.every((o) => o.right) },
  ];
}
