import type { BuiltFrom, InLine, PlateFrom } from "../../../core/document/plate";
import { seenFrames } from "../../../core/document/recipe";
import { cameraPlace } from "../../../core/plate/follow";
import { heldFrame } from "../../../core/retouch/plate";
import { asDraft, type Draft } from "../../../recipe/edits";
import { intruderById, patchById } from "../../../recipe/query";
import type { BuiltAnswer } from "../../../wire/plate";
import type { Take } from "../../../wire/take";
import { alignTake, buildPlate, colourAround, uploadPicture } from "../../api";
import { atFrame } from "../counting";
import { newId } from "../names";
import { heldOver } from "../seen";
import { atStage } from "../state/mode";
import type { EditorCore } from "./core";
import type { createTasks } from "./tasks";

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
    const line = await tasks.run(`Bringing ${other.name} into line`, (w) => alignTake(shot.id, { take: other.id, at, frame, avoid, task: w }));
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
    notices.said(`Brought into line: ${words(found)}; ${Math.round(100 * agree)} % of the picture agrees.`);
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

  async function fromPicture(file: File): Promise<void> {
    try {
      const p = await uploadPicture(file);
      const { recipe, shot } = get();
      const info = shot.takes[recipe.shot.take].info!;
      add(bare(file.name), { asset: p.asset }, `Bring in ${file.name} as a plate`);
      const other = p.width !== info.width || p.height !== info.height;
      const size = other
        ? ` It is ${p.width}×${p.height}, the shot ${info.width}×${info.height}: it lies at the left upper corner until it is placed.`
        : "";
      notices.said(`${file.name} is a plate now.${size}${p.notes.length ? ` ${p.notes.join(" ")}` : ""}`);
    } catch (e) {
      notices.problem(e instanceof Error ? e.message : String(e));
    }
  }

  /** A plain or sloping colour, taken from around an outline at the frame shown. */
  async function plainColour(outline: number[][], frame: number): Promise<string | null> {
    const { shot } = get();
    try {
      const colour = await colourAround(shot.id, frame, outline);
      const slopes = colour.planes.some(([, dx, dy]) => dx !== 0 || dy !== 0);
      return add(slopes ? "Sloping colour" : "Plain colour", { colour }, "Take the colour around as a plate");
    } catch (e) {
      notices.problem(e instanceof Error ? e.message : String(e));
      return null;
    }
  }

  /** Lays a patch over an outlined thing, for the frames in which it is seen: with the chosen plate, else the newest, else the cleanest frame held. */
  function cover(id: string): void {
    const s = get();
    const i = intruderById(s.recipe, id);
    if (!i?.seen) return;
    const band = seenFrames(i) ?? s.recipe.shot;
    const plate = s.selection?.kind === "plate" ? s.selection.plate : Object.keys(s.recipe.plates).at(-1);
    const clean = s.found[id]?.clean[0]?.frame;
    const leaves = !(i.seen.measured?.never && i.seen.in === undefined && i.seen.out === undefined);
    // a held frame that shows the same thing would cover it with itself
    if (!plate && (!leaves || clean === undefined))
      return notices.said(
        `${i.name} ${leaves ? "is not clean in any frame" : "never leaves"}: no frame of this shot shows what is behind it. Take the clean picture from another take (Plate), fill or graft it on a plate, or take the same frame beside it (Patch, Beside).`,
      );
    const shows = plate && heldOver(s.recipe.plates[plate], s.recipe.shot.take, i);
    if (shows)
      return notices.said(
        `The plate “${s.recipe.plates[plate].name ?? plate}” is a frame in which ${i.name} is seen: retouch it first, or make a plate of a frame in which it is gone.`,
      );
    const source = plate ? { plate } : { take: s.recipe.shot.take, hold: clean ?? s.recipe.shot.in };
    const layer = newId("l");
    const { in: a, out: b } = s.recipe.shot;
    const [first, last] = [Math.max(a, band.in - 1), Math.min(b, band.out + 1)];
    const still = s.survey?.survey?.stillness;
    const moves = still && still.verdict !== "locked";
    const place = moves ? cameraPlace(still.perFrame, stillFrom(source), first, last) : null;
    commit(`Cover ${i.name}`, (d) => {
      intruderById(d, id)?.layers.push({
        id: layer,
        kind: "patch",
        in: first,
        out: last,
        source,
        ...(place ? { place: asDraft(place) } : {}),
        mask: { shapes: [{ kind: "path", op: "add", points: i.seen!.outline.map((p) => [...p]) }], feather: 12, grow: 6 },
      });
    });
    set({ selection: { kind: "layer", layer }, tool: "adjust", mode: atStage("Patch") });
    core.refresh();
  }

  /** The frame in whose place a still source is. */
  function stillFrom(source: { plate?: string; hold?: number }): number {
    const { recipe } = get();
    const plate = source.plate !== undefined ? recipe.plates[source.plate] : null;
    const held = plate && heldFrame(plate);
    if (plate?.from.line?.at !== undefined) return plate.from.line.at;
    return held?.take === recipe.shot.take ? held.frame : (source.hold ?? recipe.shot.in);
  }

  /** Lets a plate's patch follow the camera: its place is keyed from what the survey measured. */
  function followCamera(layerId: string): void {
    const { recipe, survey } = get();
    const still = survey?.survey?.stillness;
    const layer = patchById(recipe, layerId);
    if (!still || !layer) return notices.said("The take is not measured yet: wait until its survey is there.");
    const place = cameraPlace(still.perFrame, stillFrom(layer.source), layer.in, layer.out);
    commit("Let the patch follow the camera", (d) => {
      const l = patchById(d, layerId);
      if (l) l.place = asDraft(place);
    });
  }

  return {
    keyOfTake,
    cover,
    followCamera,
    holdFrame,
    makePlate: () => void holdFrame(get().frame),
    buildFromMany,
    recallBuild,
    fromTake,
    fromPicture,
    plainColour,
  };
}

/** What bringing into line did, in words. */
export function words(l: InLine): string {
  const light = l.light[0][0];
  const turn = l.angle || l.scale !== 1 ? `, turned ${l.angle.toFixed(3)}°, scaled ${(100 * l.scale).toFixed(2)} %` : "";
  return `moved ${l.x.toFixed(2)}, ${l.y.toFixed(2)} px${turn}, light × ${light.toFixed(3)}`;
}

const bare = (name: string) => name.replace(/\.[^.]+$/, "");
