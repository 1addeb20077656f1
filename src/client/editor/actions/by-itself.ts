import type { PatchLayer } from "../../../core/document/layer";
import type { Recipe } from "../../../core/document/recipe";
import { type MatchProposal, proposeMatch } from "../../../core/match/proposal";
import { asDraft, type Draft } from "../../../recipe/edits";
import { layerTitle, patchById } from "../../../recipe/query";
import { measureGrain } from "../../api";
import { preferences } from "../../preferences";
import { uuid } from "../../uuid";
import { newId } from "../names";
import type { EditorState } from "../state/editor";
import type { EditorCore } from "./core";

/** What the grain of the shot's own take is called, where it was measured as a whole. */
export const OWN_GRAIN = "The take's own";

/** The data of the grain of the shot's own take, where the recipe has it. */
export const ownGrain = (r: Pick<Recipe, "profiles">): string | null =>
  Object.values(r.profiles ?? {}).find((p) => p.name === OWN_GRAIN)?.data ?? null;

/** How a patch should be matched, by what is known of the shot's take. */
export function proposalFor(layer: Pick<PatchLayer, "source">, shotTake: string, survey: EditorState["survey"]): MatchProposal {
  return proposeMatch(layer, shotTake, survey?.survey?.light ?? survey?.first?.light ?? null);
}

/** Lays a profile of these data over a patch, under the name it has or a new one. */
export function layGrain(d: Draft<Recipe>, layer: Draft<PatchLayer>, data: string, name: string): void {
  const same = Object.entries(d.profiles ?? {}).find(([, p]) => p.data === data)?.[0];
  const id = same ?? newId("g");
  if (!same) d.profiles = { ...d.profiles, [id]: { name, data } };
  layer.grain = { ...layer.grain, profile: id };
}

/** Matching of new patches that nobody has to ask for: grain over a picture that stands still, light where it moves. */
export function createByItself({ get, commit }: Pick<EditorCore, "get" | "commit">) {
  /** The grain of the shot's own take over the stretch it takes, where it was measured. */
  let own: { of: string; data: Promise<string | null> } | null = null;
  let data: string | null = null;
  /** Patches that wait for it. */
  const waiting = new Set<string>();
  const wanted = () => preferences.getState().matching === "itself";

  /** Measures the grain of the shot's take, unless that is done or the recipe has it: quietly, since nobody has asked for it. */
  async function know(): Promise<void> {
    const { shot, recipe } = get();
    const { take, in: from, out: to } = recipe.shot;
    if (!wanted() || shot.takes[take]?.state !== "ready" || ownGrain(recipe)) return;
    const of = `${take}/${from}/${to}`;
    if (own?.of !== of) own = { of, data: measureGrain(shot.id, { take, in: from, out: to, task: uuid() }).then((a) => a.data, () => null) }; // prettier-ignore
    data = await own.data;
    const found = data;
    const now = [...waiting].flatMap((id) => patchById(get().recipe, id) ?? []).filter((l) => !l.grain && !l.locked);
    waiting.clear();
    if (!found || !now.length) return;
    commit(`Give ${now.map((l) => layerTitle(get().recipe, l.id)).join(", ")} the grain of the footage`, (d) => {
      for (const { id } of now) {
        const l = patchById(d, id);
        if (l) layGrain(d, l, found, OWN_GRAIN);
      }
    });
  }

  /** Matches a patch that is new, or whose picture has become another kind; what was switched off stays so. @param before null for a new one */
  function match(d: Draft<Recipe>, layer: Draft<PatchLayer>, before: PatchLayer | null): void {
    if (!wanted()) return;
    const { recipe, survey } = get();
    const now = proposalFor(layer, recipe.shot.take, survey);
    const then = before ? proposalFor(before, recipe.shot.take, survey) : null;
    if (now.light && !layer.light && !then?.light) layer.light = asDraft({ by: now.light.by });
    if (!now.grain || layer.grain || then?.grain) return;
    const known = ownGrain(d) ?? data;
    if (known) return layGrain(d, layer, known, OWN_GRAIN);
    waiting.add(layer.id);
    void know();
  }

  return { know, match };
}
export type ByItself = ReturnType<typeof createByItself>;
