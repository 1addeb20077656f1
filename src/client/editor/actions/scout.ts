import type { Point } from "../../../core/document/geometry";
import type { Recipe, SeenBand } from "../../../core/document/recipe";
import type { Draft } from "../../../recipe/edits";
import { intruderById, thingsOf } from "../../../recipe/query";
import { fetchSurvey, findThing } from "../../api";
import { atFrame } from "../counting";
import { newId } from "../names";
import { thinned } from "../seen";
import type { EditorCore } from "./core";
import type { createTasks } from "./tasks";

/** Scouting: what was measured about the take, and where and when a thing is seen. */
export function createScout(core: EditorCore, tasks: ReturnType<typeof createTasks>) {
  const { get, set, commit, preview, notices } = core;
  const shotId = () => get().shot.id;

  async function loadSurvey(): Promise<void> {
    const { shot, recipe } = get();
    const take = shot.takes[recipe.shot.take];
    if (take.state !== "ready") return;
    set({ survey: await fetchSurvey(take.id).catch(() => null) });
  }

  /** Draws round a thing: it is in the ledger at once, and its band follows from measurement. */
  async function ringed(ring: Point[]): Promise<void> {
    const outline = thinned(ring);
    set({ ring: [] });
    if (outline.length < 3) return notices.said("Drag once round the thing: the loop closes by itself.");
    const at = get().frame;
    const selected = get().selection;
    const chosen = selected?.kind === "intruder" ? intruderById(get().recipe, selected.intruder) : null;
    const again = chosen && !chosen.layers.length && !chosen.seen ? chosen : null;
    const id = again?.id ?? newId("i");
    const count = thingsOf(get().recipe).length + 1;
    const seen: Draft<SeenBand> = { at, outline };
    commit(`Outline intruder ${again ? again.name : count} at frame ${atFrame(at)}`, (d) => {
      const home = intruderById(d, id);
      if (home) home.seen = seen;
      else d.intruders.push({ id, name: `Intruder ${count}`, seen, layers: [] });
    });
    set({ selection: { kind: "intruder", intruder: id } });
    await measure(id);
  }

  /** Measures again when and where an outlined thing is seen. */
  async function measure(id: string): Promise<void> {
    const seen = intruderById(get().recipe, id)?.seen;
    if (!seen) return;
    const answer = await tasks.run("Finding when it is seen", (w) =>
      findThing(shotId(), { at: seen.at, outline: seen.outline.map((p) => [...p]), task: w }),
    );
    if (!answer) return;
    set({ found: { ...get().found, [id]: answer } });
    const measured = { in: answer.first, out: answer.last, worst: answer.worst, ...(answer.never ? { never: true } : {}) };
    const before = intruderById(get().recipe, id);
    if (!before?.seen || JSON.stringify(before.seen.measured) === JSON.stringify(measured)) return;
    commit(`${before.name} is seen ${answer.never ? "all the time" : `from frame ${atFrame(answer.first)} to ${atFrame(answer.last)}`}`, (d) => {
      const i = intruderById(d, id);
      if (i?.seen) i.seen.measured = measured;
    });
  }

  /** Draws the loop anew, round all that was found to belong to the thing on the frame it was outlined on. */
  async function takeIn(id: string): Promise<void> {
    const whole = get().found[id]?.whole;
    const who = intruderById(get().recipe, id);
    if (!whole || !who?.seen) return;
    const outline = thinned(whole);
    commit(`Draw the loop round all of ${who.name}`, (d) => {
      const seen = intruderById(d, id)?.seen;
      if (seen) seen.outline = outline;
    });
    await measure(id);
  }

  /** Asks again for what was measured, where this page has not got it. */
  async function recall(id: string): Promise<void> {
    const { found, recipe, task } = get();
    if (found[id] || task || !intruderById(recipe, id)?.seen) return;
    await measure(id);
  }

  /** Sets an end of the band, or the worst frame, by hand; null goes back to what was measured. */
  function setSeen(id: string, which: "in" | "out" | "worst", n: number | null, dragging = false): void {
    const who = intruderById(get().recipe, id);
    if (!who?.seen) return;
    const change = (d: Draft<Recipe>) => {
      const seen = intruderById(d, id)?.seen;
      if (!seen) return;
      if (n === null) delete seen[which];
      else seen[which] = n;
    };
    const words = { in: "First frame", out: "Last frame", worst: "Worst frame" }[which];
    if (dragging) preview(change);
    else commit(n === null ? `${words} of ${who.name} as measured` : `${words} of ${who.name}: ${n}`, change);
  }

  return { loadSurvey, ringed, measure, takeIn, recall, setSeen, setRing: (ring: Point[]) => set({ ring }) };
}
