import type { Point } from "../../../core/document/geometry";
import type { PatchLayer } from "../../../core/document/layer";
import type { Recipe } from "../../../core/document/recipe";
import { SHARPNESS } from "../../../core/ranges";
import { valueAt } from "../../../core/time/keyed";
import type { Draft } from "../../../recipe/edits";
import { layerTitle, patchById } from "../../../recipe/query";
import { measureGrain } from "../../api";
import { selectedLayer } from "../state/select";
import { sidesOf } from "../tools/ring-box";
import { layGrain, OWN_GRAIN, ownGrain } from "./by-itself";
import type { EditorCore } from "./core";
import type { createPatches } from "./patches";
import type { createTasks } from "./tasks";

type Light = NonNullable<PatchLayer["light"]>;

/** The amount that makes good what a patch that is sharpened by `now` is still off. Blurs add by their squares. */
export function sharper(now: number, off: number): number {
  const blur = -Math.sign(now) * now * now + Math.sign(off) * off * off;
  const amount = -Math.sign(blur) * Math.sqrt(Math.abs(blur));
  return Number(Math.min(SHARPNESS.max, Math.max(SHARPNESS.min, amount)).toFixed(2)) + 0;
}

/** Matching a patch to what surrounds it: its light, its seam, its grain. */
export function createMatching(
  core: EditorCore,
  tasks: ReturnType<typeof createTasks>,
  patches: Pick<ReturnType<typeof createPatches>, "changeLayer" | "isLocked">,
) {
  const { get, set, commit, notices } = core;
  const title = (id: string) => layerTitle(get().recipe, id);

  /** Measures the grain of the stretch the shot takes, or of a flat area of it, and lays it over a patch. @returns whether it did */
  async function measure(layer: PatchLayer, box?: [number, number, number, number]): Promise<boolean> {
    if (patches.isLocked(layer)) return false;
    const { shot, recipe } = get();
    const { take, in: from, out: to } = recipe.shot;
    const answer = await tasks.run("Measuring the grain", (task) =>
      measureGrain(shot.id, { take, in: from, out: to, task, ...(box ? { box } : {}) }),
    );
    if (!answer || !patchById(get().recipe, layer.id)) return false;
    const name = box ? `From an area at ${Math.round(box[0])}, ${Math.round(box[1])}` : OWN_GRAIN;
    commit(`Give ${title(layer.id)} the grain of the footage`, (d: Draft<Recipe>) => {
      const l = patchById(d, layer.id);
      if (l) layGrain(d, l, answer.data, name);
    });
    return true;
  }

  /** The footage's grain over a patch, measured where it is not known yet. */
  async function giveGrain(layer: PatchLayer): Promise<void> {
    const known = ownGrain(get().recipe);
    if (known) patches.changeLayer(layer.id, `Give ${title(layer.id)} the grain of the footage`, (l, d) => layGrain(d, l, known, OWN_GRAIN));
    else await measure(layer);
  }

  /** A patch follows the light around it, over the whole or along its rim; null: no longer. */
  function setLight(layer: PatchLayer, by: Light["by"] | null): void {
    const words = by === null ? `${title(layer.id)} keeps its own light` : by === "whole" ? `${title(layer.id)} follows the light` : `${title(layer.id)} follows the light along its rim`; // prettier-ignore
    patches.changeLayer(layer.id, words, (d) => {
      if (by === null) delete d.light;
      else d.light = { ...d.light, by };
    });
  }

  return {
    measure,
    /** Lays the footage's grain over a patch, measured where it is not known yet; or takes it away. */
    setGrain(layer: PatchLayer, on: boolean): void {
      if (on) void giveGrain(layer);
      else patches.changeLayer(layer.id, `Take the grain off ${title(layer.id)}`, (d) => void delete d.grain);
    },
    /** Lays grain over a patch that was measured before, here or elsewhere. */
    useGrain(layer: PatchLayer, data: string, name: string): void {
      if (patches.isLocked(layer)) return;
      commit(`Grain: ${name}`, (d: Draft<Recipe>) => {
        const l = patchById(d, layer.id);
        if (l) layGrain(d, l, data, name);
      });
    },
    setLight,
    /** Gives a patch's picture the sharpness of what surrounds it, as far as that can be told on the frame shown; or leaves it its own. */
    setSharpness(layer: PatchLayer, as: "footage" | "own"): void {
      const { figures, frame } = get();
      if (as === "own") return patches.changeLayer(layer.id, `${title(layer.id)} keeps its own sharpness`, (d) => void delete d.sharpness);
      const off = figures?.sharpness ?? null;
      if (off === null) return notices.said("Too few edges show on both sides of the rim here: go to another frame, or set the amount by hand.");
      const amount = sharper(valueAt(layer.sharpness?.amount ?? 0, frame), off);
      patches.changeLayer(layer.id, `${title(layer.id)} is as sharp as what surrounds it`, (d) => {
        d.sharpness = { ...d.sharpness, amount };
      });
    },
    /** Takes a patch's seam off, or leaves it. */
    setSeam(layer: PatchLayer, on: boolean): void {
      patches.changeLayer(layer.id, on ? `Take the seam off ${title(layer.id)}` : `Leave the seam of ${title(layer.id)}`, (d) => {
        if (on) d.seam = { strength: 1 };
        else delete d.seam;
      });
    },
    /** Light along the rim and the footage's grain at once: what a held picture lacks. */
    async matchAll(layer: PatchLayer): Promise<void> {
      if (patches.isLocked(layer)) return;
      setLight(layer, "rim");
      await giveGrain(layer);
    },
    /** The box that is being drawn; its corners, or none. */
    setBox: (ring: Point[]) => set({ ring }),
    /** A box was drawn over a flat area: its grain is measured and laid over the selected patch. */
    boxed(a: Point, b: Point): void {
      set({ ring: [] });
      const layer = selectedLayer(get());
      if (!layer) return notices.said("Select the patch that is to have this grain first, in the ledger.");
      const [x0, y0, x1, y1] = sidesOf(get(), a, b);
      if (x1 - x0 < 16 || y1 - y0 < 16) return notices.said("Drag a larger box, at least 16 pixels wide and high, over a flat area.");
      void measure(layer, [x0, y0, x1, y1]);
    },
  };
}
