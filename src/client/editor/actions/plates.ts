import type { BuiltFrom, InLine, PlateFrom } from "../../../core/document/plate";
import { asDraft, type Draft } from "../../../recipe/edits";
import type { BuiltAnswer } from "../../../wire/plate";
import type { Take } from "../../../wire/take";
import { alignTake, buildPlate } from "../../api";
import { atFrame } from "../counting";
import { bare, newId } from "../names";
import { atStage } from "../state/mode";
import type { EditorCore } from "./core";
import type { createTasks } from "./tasks";
import { createBroughtPlates } from "./brought-plates";

/** Making plates: a held frame, one built from many, another take, a picture, a plain colour. */
export function createPlates(core: EditorCore, tasks: ReturnType<typeof createTasks>) {
  const { get, set, commit, notices } = core;

  function add(name: string, from: Draft<PlateFrom>, words: string): string {
    const id = newId("p");
    commit(words, (d) => {
      d.plates[id] = { name, from, touches: [] };
    });
    set({ selection: { kind: "plate", plate: id } });
    return id;
  }

  /** Holds frame `n` of the shot as a plate; one that is there already is chosen. */
  function holdFrame(n: number): string {
    const { recipe } = get();
    const { take } = recipe.shot;
    const old = Object.entries(recipe.plates).find(([, p]) => p.from.take === take && p.from.frame === n && p.touches.length === 0 && !p.returned);
    if (old) {
      set({ selection: { kind: "plate", plate: old[0] } });
      notices.said(`Frame ${core.show(n)} is a plate already.`);
      return old[0];
    }
    const id = add(`Frame ${core.show(n)}`, { take, frame: n }, `Make frame ${atFrame(n)} a plate`);
    notices.said(`Frame ${core.show(n)} is a plate now.`);
    return id;
  }

  async function buildFromMany(built: BuiltFrom): Promise<void> {
    const { recipe, shot } = get();
    const { take } = recipe.shot;
    const info = await tasks.run("Building the plate", (w) => buildPlate(shot.id, { take, built, task: w }));
    if (!info) return;
    const id = add(
      `Built from ${core.show(built.in)}–${core.show(built.out)}`,
      asDraft({ take, built }),
      `Build a plate from frames ${atFrame(built.in)} to ${atFrame(built.out)}`,
    );
    set({ builds: { ...get().builds, [id]: info }, mode: atStage("Plate"), compare: { ...get().compare, how: "plate" } });
    core.refresh();
  }

  /** What a built plate was made of, asked for again where this page has not got it. */
  async function recallBuild(id: string): Promise<void> {
    const { recipe, shot, builds, task } = get();
    const from = recipe.plates[id]?.from;
    if (!from?.built || builds[id] || task) return;
    const info: BuiltAnswer | null = await tasks.run("Reading the plate", (w) =>
      buildPlate(shot.id, { take: from.take!, built: from.built!, task: w }),
    );
    if (info) set({ builds: { ...get().builds, [id]: info } });
  }

  /** Brings a frame of another take of the production into line and makes it a plate. */
  async function fromTake(other: Take, frame: number): Promise<void> {
    const { recipe, shot, frame: at } = get();
    const avoid = recipe.intruders.flatMap((i) => (i.seen ? [i.seen.outline.map((p) => [...p])] : []));
    const line = await tasks.run(`Aligning ${other.name}`, (w) => alignTake(shot.id, { take: other.id, at, frame, avoid, task: w }));
    if (!line) return;
    const { agree, ...rest } = line;
    const found: InLine = { ...rest, at };
    const key = keyOfTake(other);
    const id = newId("p");
    commit(`Take frame ${atFrame(frame)} of ${other.name} as a plate`, (d) => {
      d.takes[key] ??= { asset: other.id };
      d.plates[id] = { name: `${bare(other.name)}, ${frame}`, from: { take: key, frame, line: found }, touches: [] };
    });
    set({ selection: { kind: "plate", plate: id }, mode: atStage("Plate"), compare: { ...get().compare, how: "over" } });
    core.refresh();
    notices.said(`Aligned: ${words(found)}; ${Math.round(100 * agree)} % of the picture agrees.`);
  }

  /** The recipe's key of a take; a new one is told to the picture worker. */
  function keyOfTake(take: Take): string {
    const { shot } = get();
    const known = Object.keys(shot.takes).find((k) => shot.takes[k].id === take.id);
    if (known) return known;
    const key = "bcdefghijklmnopqrstuvwxyz".split("").find((k) => !shot.takes[k]) ?? newId("t");
    set({ shot: { ...shot, takes: { ...shot.takes, [key]: take } } });
    core.takes();
    return key;
  }

  return {
    ...createBroughtPlates(core, add),
    keyOfTake,
    holdFrame,
    makePlate: () => void holdFrame(get().frame),
    buildFromMany,
    recallBuild,
    fromTake,
  };
}

/** What bringing into line did, in words. */
export function words(l: InLine): string {
  const light = l.light[0][0];
  const turn = l.angle || l.scale !== 1 ? `, turned ${l.angle.toFixed(3)}°, scaled ${(100 * l.scale).toFixed(2)} %` : "";
  return `moved ${l.x.toFixed(2)}, ${l.y.toFixed(2)} px${turn}, light × ${light.toFixed(3)}`;
}
