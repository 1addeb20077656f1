import { isPaint, isPatch, isReframe } from "../../../core/document/layer";
import type { Layer } from "../../../core/document/layer";
import type { Draft } from "../../../recipe/edits";
import { intruderById, intruderOf, layerById, layerTitle, paintById } from "../../../recipe/query";
import { newId } from "../names";
import { NOTHING_PICKED } from "../shapes";
import type { EditorCore } from "./core";

/** The list of intruders and their layers: its order, what is on, locked, named, doubled, and what goes. */
export function createLayers(core: EditorCore, isLocked: (l: { id: string; locked?: boolean }) => boolean) {
  const { get, set, commit, notices } = core;
  const titleOf = (id: string) => layerTitle(get().recipe, id);

  /** What is selected goes; what still uses it is named. */
  function removeSelected(): void {
    const s = get();
    const { selection } = s;
    if (!selection) return;
    if (selection.kind === "plate") return removePlate(selection.plate);
    if (selection.kind === "intruder") {
      const i = intruderById(s.recipe, selection.intruder);
      if (i?.layers.some((l) => l.locked)) return void isLocked(i.layers.find((l) => l.locked)!);
      return commit(`Delete ${i?.name}`, (d) => {
        d.intruders = d.intruders.filter((x) => x.id !== selection.intruder);
      });
    }
    const l = layerById(s.recipe, selection.layer);
    if (!l || isLocked(l)) return;
    const what = isReframe(l) ? "the reframing" : paintById(s.recipe, selection.layer) ? "painted frames" : "patch";
    commit(`Delete ${what} of ${titleOf(selection.layer)}`, (d) => {
      for (const i of d.intruders) i.layers = i.layers.filter((x) => x.id !== selection.layer);
      d.intruders = d.intruders.filter((i) => i.layers.length || i.seen);
    });
  }

  function removePlate(id: string): void {
    const s = get();
    const uses = (p: { source?: { plate?: string } }) => p.source?.plate === id;
    const users = [
      ...s.recipe.intruders.filter((i) => i.layers.some((l) => (isPatch(l) && uses(l)) || (isPaint(l) && l.touches.some(uses)))).map((i) => i.name),
      ...Object.entries(s.recipe.plates)
        .filter(([k, p]) => k !== id && p.touches.some(uses))
        .map(([k, p]) => p.name ?? k),
    ];
    if (users.length)
      return notices.problem(`This plate is used by ${users.join(", ")}: give ${users.length > 1 ? "them" : "it"} another picture first.`);
    commit(`Delete plate ${s.recipe.plates[id].name ?? ""}`.trim(), (d) => {
      delete d.plates[id];
    });
  }

  /** Puts an intruder at another place of the list; what stands lower is laid later. */
  function orderIntruder(id: string, to: number): void {
    const list = get().recipe.intruders;
    const from = list.findIndex((i) => i.id === id);
    if (from < 0 || to < 0 || to >= list.length || to === from) return;
    commit(`Move ${list[from].name} ${to < from ? "up" : "down"} the list`, (d) => {
      const [i] = d.intruders.splice(from, 1);
      d.intruders.splice(to, 0, i);
    });
  }

  /** Puts a layer at another place within its intruder, 0 at the bottom. */
  function orderLayer(id: string, to: number): void {
    const home = intruderOf(get().recipe, id);
    const from = home?.layers.findIndex((l) => l.id === id) ?? -1;
    if (!home || to < 0 || to >= home.layers.length || to === from) return;
    commit(`Lay the patch of ${home.name} ${to > from ? "higher" : "lower"}`, (d) => {
      const layers = intruderById(d, home.id)!.layers;
      const [l] = layers.splice(from, 1);
      layers.splice(to, 0, l);
    });
  }

  const anyLayer = (id: string, name: string, change: (l: Draft<Layer>) => void) => commit(name, (d) => void change(layerById(d, id)!));

  const setOn = (l: Layer, on: boolean) =>
    anyLayer(l.id, `Switch ${l.name || `the layer of ${titleOf(l.id)}`} ${on ? "on" : "off"}`, (d) => void (on ? delete d.on : (d.on = false)));

  const setLocked = (l: Layer, locked: boolean) =>
    anyLayer(
      l.id,
      `${locked ? "Lock" : "Unlock"} ${l.name || `the layer of ${titleOf(l.id)}`}`,
      (d) => void (locked ? (d.locked = true) : delete d.locked),
    );

  const nameLayer = (l: Layer, name: string) => anyLayer(l.id, `Name the layer ${name}`, (d) => void (name ? (d.name = name) : delete d.name));

  function duplicateLayer(id: string): void {
    const copy = newId("l");
    commit(`Duplicate the patch of ${titleOf(id)}`, (d) => {
      const home = intruderOf(d, id);
      if (!home) return;
      const at = home.layers.findIndex((l) => l.id === id);
      const { locked: _, ...l } = JSON.parse(JSON.stringify(home.layers[at])) as Draft<Layer>;
      home.layers.splice(at + 1, 0, { ...l, id: copy, name: `${l.name || home.name} copy`.slice(0, 200) } as Draft<Layer>);
    });
    set({ selection: { kind: "layer", layer: copy }, picked: NOTHING_PICKED });
  }

  return {
    removeSelected,
    orderIntruder,
    orderLayer,
    setOn,
    setLocked,
    nameLayer,
    duplicateLayer,
  };
}
