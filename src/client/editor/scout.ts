import {
  type Intruder,
  isPaint,
  type Layer,
  type PatchLayer,
  type Plate,
  type Point,
  type Recipe,
  type SeenBand,
  seenFrames,
} from "../../core/document";
import { touchesAt } from "../../core/retouch/paint";
import { heldFrame } from "../../core/retouch/plate";
import { keptPoints } from "../../core/shape/simplify";
import { valueAt } from "../../core/time/keyed";
import { fetchSurvey, findThing } from "../api";
import type { EditorCore } from "./core";
import { atFrame } from "./counting";
import { newId, round } from "./names";
import type { createWork } from "./work";

/** Scouting: what was measured about the take, and where and when a thing is seen. */
export function createScout(core: EditorCore, work: ReturnType<typeof createWork>) {
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
    const again =
      selected?.kind === "intruder" ? get().recipe.intruders.find((i) => i.id === selected.intruder && !i.layers.length && !i.seen) : null;
    const id = again?.id ?? newId("i");
    const count = get().recipe.intruders.length + 1;
    const seen: SeenBand = { at, outline };
    commit(`Outline intruder ${again ? again.name : count} at frame ${atFrame(at)}`, (d) => {
      const home = d.intruders.find((i) => i.id === id);
      if (home) home.seen = seen as typeof home.seen;
      else d.intruders.push({ id, name: `Intruder ${count}`, seen: seen as never, layers: [] });
    });
    set({ selection: { kind: "intruder", intruder: id } });
    await measure(id);
  }

  /** Measures again when and where an outlined thing is seen. */
  async function measure(id: string): Promise<void> {
    const seen = get().recipe.intruders.find((i) => i.id === id)?.seen;
    if (!seen) return;
    const answer = await work.run("Finding when it is seen", (w) =>
      findThing(shotId(), { at: seen.at, outline: seen.outline.map((p) => [...p]), work: w }),
    );
    if (!answer) return;
    set({ found: { ...get().found, [id]: answer } });
    const measured = { in: answer.first, out: answer.last, worst: answer.worst, ...(answer.never ? { never: true } : {}) };
    const before = get().recipe.intruders.find((i) => i.id === id);
    if (!before?.seen || JSON.stringify(before.seen.measured) === JSON.stringify(measured)) return;
    commit(`${before.name} is seen ${answer.never ? "all the time" : `from frame ${atFrame(answer.first)} to ${atFrame(answer.last)}`}`, (d) => {
      const i = d.intruders.find((x) => x.id === id);
      if (i?.seen) i.seen.measured = measured;
    });
  }

  /** Asks again for what was measured, where this page has not got it. */
  async function recall(id: string): Promise<void> {
    const { found, recipe, work: busy } = get();
    if (found[id] || busy || !recipe.intruders.find((i) => i.id === id)?.seen) return;
    await measure(id);
  }

  /** Sets an end of the band, or the worst frame, by hand; null goes back to what was measured. */
  function setSeen(id: string, which: "in" | "out" | "worst", n: number | null, dragging = false): void {
    const who = get().recipe.intruders.find((i) => i.id === id);
    if (!who?.seen) return;
    const change = (d: { intruders: { id: string; seen?: { in?: number; out?: number; worst?: number } }[] }) => {
      const seen = d.intruders.find((i) => i.id === id)?.seen;
      if (!seen) return;
      if (n === null) delete seen[which];
      else seen[which] = n;
    };
    const words = { in: "First frame", out: "Last frame", worst: "Worst frame" }[which];
    if (dragging) preview(change as Parameters<typeof preview>[0]);
    else commit(n === null ? `${words} of ${who.name} as measured` : `${words} of ${who.name}: ${n}`, change as Parameters<typeof commit>[1]);
  }

  return { loadSurvey, ringed, measure, recall, setSeen };
}

/** A free-hand loop as some dozen points. */
export function thinned(ring: readonly Point[], off = 3): number[][] {
  if (ring.length < 3) return [];
  const beside = (a: number, b: number, i: number) => {
    const [[ax, ay], [bx, by], [x, y]] = [ring[a], ring[b], ring[i]];
    const length = Math.hypot(bx - ax, by - ay);
    return length > 1e-6 ? Math.abs((bx - ax) * (ay - y) - (ax - x) * (by - ay)) / length : Math.hypot(x - ax, y - ay);
  };
  const points = keptPoints(ring.length, off, beside).map((i) => [round(ring[i][0]), round(ring[i][1])]);
  const [first, last] = [points[0], points[points.length - 1]];
  if (points.length > 3 && Math.hypot(first[0] - last[0], first[1] - last[1]) < 2 * off) points.pop();
  return points;
}

/** Whether a plate is a mere frame of the shot's take in which a thing is seen, with nothing done to it. */
export function heldOver(plate: Plate, take: string, i: Intruder): boolean {
  const held = heldFrame(plate);
  const band = seenFrames(i);
  return !!held && !!band && held.take === take && !plate.touches.length && !plate.returned && held.frame >= band.in && held.frame <= band.out;
}

/** What is wrong with a patch's source, in a sentence: that it shows the very thing it is to take away. Null where nothing is known of that. */
export function sourceShows(recipe: Recipe, i: Intruder, l: PatchLayer, show: (n: number) => string): string | null {
  const band = seenFrames(i);
  if (!band) return null;
  const own = recipe.shot.take;
  const within = (n: number) => n >= band.in && n <= band.out;
  const { source: s } = l;
  if (s.plate !== undefined)
    return recipe.plates[s.plate] && heldOver(recipe.plates[s.plate], own, i)
      ? `This plate is a frame in which ${i.name} is seen, not retouched.`
      : null;
  if ((s.take ?? own) !== own) return null;
  if (s.hold !== undefined) return within(s.hold) ? `${i.name} is seen in the frame that is held.` : null;
  if (s.slip === undefined) return null;
  const bad: number[] = [];
  for (let n = l.in; n <= l.out; n++) if (within(n) && within(Math.floor(n + valueAt(s.slip, n) + 0.5))) bad.push(n);
  return bad.length
    ? `${i.name} is seen in the slipped frame, too, at ${bad.length === 1 ? `frame ${show(bad[0])}` : `${bad.length} frames from ${show(bad[0])} on`}.`
    : null;
}

/** Frames in which an intruder is seen and no patch covers it, as stretches. */
export function leaks(
  i: Pick<Intruder, "seen" | "on"> & { layers: readonly (Layer | { in: number; out: number; on?: boolean })[] },
  first: number,
  last: number,
): [number, number][] {
  const band = seenFrames(i as Intruder);
  if (!band) return [];
  const out: [number, number][] = [];
  for (let n = Math.max(first, band.in); n <= Math.min(last, band.out); n++) {
    if (
      i.on !== false &&
      i.layers.some((l) => l.on !== false && n >= l.in && n <= l.out && (!("kind" in l) || !isPaint(l) || touchesAt(l, n).length > 0))
    )
      continue;
    const end = out.at(-1);
    if (end && end[1] === n - 1) end[1] = n;
    else out.push([n, n]);
  }
  return out;
}
