import type { PatchLayer, Source } from "../../../core/document/layer";
import type { Draft } from "../../../recipe/edits";
import { layerTitle, patchById } from "../../../recipe/query";
import { maskOf } from "../../../core/document/recipe";
import type { Take } from "../../../wire/take";
import { lastPlateUsed, type SourceKind } from "../source-kind";
import { takeOf } from "../state/select";
import type { ByItself } from "./by-itself";
import type { ChangeLayer, EditorCore } from "./core";

/** What a patch shows: another kind of picture, or one of another take. */
export function createPatchSource(core: EditorCore, keyOfTake: (take: Take) => string, changeLayer: ChangeLayer, itself: Pick<ByItself, "match">) {
  const { get, set, commit } = core;
  const titleOf = (id: string) => layerTitle(get().recipe, id);

  /** Gives a patch another kind of picture, with a first setting that is of use. */
  function setSource(l: PatchLayer, kind: SourceKind): void {
    const { recipe, frame } = get();
    const take = l.source.take ?? recipe.shot.take;
    const own = recipe.shot.take;
    const next: Record<SourceKind, () => Draft<Source>> = {
      plate: () => ({ plate: lastPlateUsed(recipe)! }),
      hold: () => ({ take, hold: Math.max(0, l.in - 1) }),
      slip: () => ({ take, slip: frame - 12 >= 0 ? -12 : 12 }),
      stretch: () => ({ take, from: recipe.shot.in, to: Math.max(recipe.shot.in, Math.min(recipe.shot.out, l.in - 1)), repeat: "loop" }),
      beside: () => ({ take: own }),
    };
    changeLayer(l.id, `Picture of ${titleOf(l.id)}: ${kind}`, (d, all) => {
      d.source = next[kind]();
      if (kind === "beside" && !d.place) d.place = besidePlace(l);
      itself.match(all, d, l);
    });
    if (kind === "beside") set({ tool: "source" });
  }

  /** The place right beside a mask, where there is more room. */
  function besidePlace(l: PatchLayer) {
    const s = get();
    const box = core.maskBox(maskOf(s.recipe, l), s.frame);
    const { width } = takeOf(s).info!;
    if (!box) return { x: 0, y: 0 };
    const w = Math.round(1.15 * (box.x1 - box.x0)) + 8;
    const left = box.x0 > width - box.x1;
    return { x: left ? w : -w, y: 0 };
  }

  /** Takes the picture from a take of the production, with what the recipe needs to name it. */
  function setTake(l: PatchLayer, other: Take): void {
    const key = keyOfTake(other);
    const { recipe } = get();
    commit(`Picture of ${titleOf(l.id)} from ${other.name}`, (d) => {
      const mine = patchById(d, l.id);
      if (!mine || mine.locked) return;
      d.takes[key] ??= { asset: other.id };
      const { plate: _, ...rest } = mine.source;
      mine.source = { ...rest, take: key };
      // the same frame of the shot's own take is what lies beneath: of another take it is a source
      if (rest.hold === undefined && rest.slip === undefined && rest.from === undefined && key !== recipe.shot.take)
        mine.source = { take: key, slip: 0 };
      itself.match(d, mine, l);
    });
  }

  return {
    setSource,
    setTake,
  };
}
