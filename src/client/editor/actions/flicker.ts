import { type EvenLightLayer, isEvenLight } from "../../../core/document/layer";
import type { Recipe } from "../../../core/document/recipe";
import type { Keyed } from "../../../core/time/keyed";
import { asDraft, type Draft } from "../../../recipe/edits";
import { flickerLayers, isOfLight, layerById } from "../../../recipe/query";
import { keepLight } from "../../api";
import { newId } from "../names";
import type { Dragging } from "../state/document";
import type { EditorCore } from "./core";
import type { createTasks } from "./tasks";

/** What is done to the flicker of a shot: nothing; it is steadied; it is steadied while one mends, and put back behind all patches. */
export type FlickerWay = "own" | "steady" | "back";

/** What a recipe does to the shot's flicker. */
export function flickerWay(r: Pick<Recipe, "intruders">): FlickerWay {
  const { steady, lively } = flickerLayers(r);
  return steady.length ? (lively.length ? "back" : "steady") : "own";
}

const WORDS: Record<FlickerWay, string> = {
  own: "Leave the flicker",
  steady: "Steady the light",
  back: "Steady the light, and put the flicker back",
};

/** Steadying the light of a whole shot. */
export function createFlicker({ get, commit, preview }: EditorCore, tasks: ReturnType<typeof createTasks>) {
  return {
    async setWay(way: FlickerWay): Promise<void> {
      const { shot, recipe } = get();
      const { take } = recipe.shot;
      const known = flickerLayers(recipe).steady[0]?.data;
      const data = way === "own" ? undefined : (known ?? (await tasks.run("Measuring the light", () => keepLight(shot.id, { take })))?.data);
      if (way !== "own" && !data) return;
      commit(WORDS[way], (d: Draft<Recipe>) => {
        d.intruders = d.intruders.filter((i) => !isOfLight(i));
        for (const i of d.intruders) if (i.layers.some(isEvenLight)) i.layers = i.layers.filter((l) => !isEvenLight(l));
        if (way === "own") return;
        const { in: from, out: to } = d.shot;
        const layer = (kind: "steady" | "lively"): EvenLightLayer => ({ id: newId("e"), kind: "evenlight", in: from, out: to, way: kind, data });
        const layers = [layer("steady"), ...(way === "back" ? [layer("lively")] : [])];
        d.intruders.push(asDraft({ id: newId("i"), name: "Flicker", layers }));
      });
    },
    /** How much of the flicker one of its layers takes off or puts back. */
    setAmount(layer: string, amount: Keyed<number>, name: string, dragging: Dragging): void {
      const run = (d: Draft<Recipe>) => {
        const l = layerById(d, layer);
        if (l?.kind === "evenlight") l.amount = asDraft(amount);
      };
      if (dragging) preview(run, false);
      else commit(name, run);
    },
  };
}
