"use client";
import clsx from "clsx";
import { ArrowDown, ArrowUp, Eye, EyeOff, Lock, LockOpen, Plus } from "lucide-react";
import { isDrawn } from "@/client/editor/shapes";
import { maskOf } from "@/core/document/recipe";
import { retouching } from "@/client/editor/state/mode";
import { takeOf } from "@/client/editor/state/select";
import { findingWords, proofNow, verdictOn } from "@/client/editor/actions/proving";
import { leaks } from "@/client/editor/seen";
import { type Intruder, seenFrames } from "@/core/document/recipe";
import { isPaint, isReframe, isPatch, type PatchLayer } from "@/core/document/layer";
import type { Layer } from "@/core/document/layer";
import { shapePolygon } from "@/core/shape/polygon";
import { MOVING } from "@/core/survey/advice";
import type { ReactNode } from "react";
import { useEditor, useEditorPick } from "../editor/context";
import { useCounting, useKeyShown } from "../editor/usePreferences";
import { IconButton } from "../parts/Button";
import { PlatePicture } from "./PlatePicture";
import { ThingPicture } from "./ThingPicture";
import { TouchList } from "./retouch/TouchList";
import { intruderById, thingsOf } from "@/recipe/query";

/** What the layer's picture is, in words. */
export function sourceWords(l: PatchLayer, plates: Record<string, { name?: string }>, show: (n: number) => string): string {
  const { source } = l;
  if (source.plate !== undefined) return plates[source.plate]?.name ?? "plate";
  if (source.hold !== undefined) return `frame ${show(source.hold)} held`;
  if (source.slip !== undefined) return typeof source.slip === "number" ? `slip ${source.slip > 0 ? "+" : ""}${source.slip}` : "slip, keyed";
  if (source.from !== undefined) return `frames ${show(source.from)}–${show(source.to!)} borrowed`;
  return "from beside";
}

/** The to-do list of the shot: what must go, with what removes it; below it the plates. */
export function Ledger() {
  const editor = useEditor();
  const s = useEditorPick("recipe", "selection", "mode", "shot");
  const [outline, loop] = [useKeyShown("tool1"), useKeyShown("tool2")];
  return (
    <aside className="h-full overflow-y-auto bg-panel" aria-label="Ledger">
      {retouching(s) ? (
        <TouchList />
      ) : (
        <section aria-label="Must go">
          <Title
            text="Must go"
            name="Draw round what must go"
            keys=""
            onAdd={() => {
              editor.selection.select(null);
              editor.mode.setStage("Scout");
            }}
          />
          {thingsOf(s.recipe).length === 0 && (
            <p className="px-3.5 pb-3 text-dim">
              Nothing yet. In Scout, drag once round the thing, and it is measured when it is seen. Or draw its patch at once with Outline{" "}
              <kbd className="num text-ochre">{outline}</kbd> or Loop <kbd className="num text-ochre">{loop}</kbd>.
            </p>
          )}
          <ul>
            {thingsOf(s.recipe).map((i) => (
              <IntruderRow key={i.id} intruder={i} />
            ))}
          </ul>
        </section>
      )}
      <section aria-label="Plates" className="mt-2 border-t border-line pt-1 pb-4">
        <Title text="Plates" name="Make this frame a plate" keys={useKeyShown("plate")} onAdd={editor.plates.makePlate} />
        {Object.keys(s.recipe.plates).length === 0 && (
          <p className="px-3.5 text-dim">
            None yet. Step to the last clean frame before the thing comes in and press <kbd className="num text-ochre">P</kbd>.
          </p>
        )}
        <ul className="grid grid-cols-2 gap-2 px-3.5">
          {Object.keys(s.recipe.plates).map((id) => (
            <PlatePicture key={id} id={id} />
          ))}
        </ul>
      </section>
    </aside>
  );
}

function Title({ text, name, keys, onAdd }: { text: string; name: string; keys: string; onAdd: () => void }) {
  return (
    <div className="flex h-9 items-center justify-between pr-2 pl-3.5">
      <h2 className="font-semibold text-dim">{text}</h2>
      <IconButton name={name} keys={keys} className="text-ochre" onClick={onAdd}>
        <Plus size={15} />
      </IconButton>
    </div>
  );
}

function IntruderRow({ intruder }: { intruder: Intruder }) {
  const editor = useEditor();
  const s = useEditorPick("recipe", "selection", "mode", "shot", "proof", "found");
  const layers = intruder.layers.filter((l) => isPatch(l) || isPaint(l));
  const patches = layers.filter(isPatch);
  const framing = intruder.layers.find((l) => isReframe(l) && l.on !== false);
  const mine = s.selection?.kind === "layer" && intruder.layers.some((l) => s.selection?.kind === "layer" && l.id === s.selection.layer);
  const selected = mine || (s.selection?.kind === "intruder" && s.selection.intruder === intruder.id);
  const off = intruder.on === false;
  const band = seenFrames(intruder);
  const worst = band?.worst ?? (layers[0] ? Math.round((layers[0].in + layers[0].out) / 2) : s.recipe.shot.in);
  const { show } = useCounting();
  const told = layers.length ? verdictOn(proofNow(s), intruder.id) : null;
  const open = leaks(intruder, s.recipe.shot.in, s.recipe.shot.out);
  const polygons = intruder.seen
    ? [Float64Array.from(intruder.seen.outline.flatMap(([x, y]) => [x, y]))]
    : patches.slice(0, 1).flatMap((l) =>
        maskOf(s.recipe, l)
          .shapes.filter(isDrawn)
          .map((x) => shapePolygon(x, worst)),
      );
  return (
    <li className={clsx("border-l-2", selected ? "border-ochre bg-raised" : "border-transparent")}>
      <div className="flex items-center gap-2.5 py-1.5 pr-2 pl-3">
        <button
          type="button"
          className="flex min-w-0 flex-1 items-center gap-2.5 rounded-md text-left"
          aria-pressed={selected}
          onClick={() =>
            editor.selection.select(
              layers.length && s.mode.stage !== "Scout" ? { kind: "layer", layer: layers.at(-1)!.id } : { kind: "intruder", intruder: intruder.id },
            )
          }
        >
          <ThingPicture take={takeOf(s)} frame={worst} polygons={polygons} />
          <span className="min-w-0">
            <span className={clsx("block truncate font-semibold", off && "text-dim line-through")}>{intruder.name}</span>
            <span className="flex items-center gap-1.5 text-dim">
              <span
                aria-hidden
                className={clsx(
                  "h-2 w-3.5 shrink-0 rounded-[2px]",
                  layers.length && (open.length || told?.verdict === "faults")
                    ? "bg-brick"
                    : told?.verdict === "clean"
                      ? "bg-dim"
                      : layers.length
                        ? "bg-dusk"
                        : "border border-line",
                )}
              />
              {off
                ? "switched off"
                : layers.length && open.length
                  ? `not covered: ${open.map(([a, b]) => (a === b ? show(a) : `${show(a)}–${show(b)}`)).join(", ")}`
                  : told?.verdict === "faults"
                    ? findingWords(told.findings)
                    : told?.verdict === "clean"
                      ? "clean, proven"
                      : layers.length
                        ? `${layers.every(isPaint) ? "painted" : "patch"} ${show(Math.min(...layers.map((l) => l.in)))}–${show(Math.max(...layers.map((l) => l.out)))}`
                        : framing
                          ? `reframed ${show(framing.in)}–${show(framing.out)}`
                          : band
                            ? `seen ${show(band.in)}–${show(band.out)}${(s.found[intruder.id]?.moves ?? 0) > MOVING ? ", moving" : ""}`
                            : "no patch"}
            </span>
          </span>
        </button>
        <IconButton
          name={off ? `Switch ${intruder.name} on` : `Switch ${intruder.name} off`}
          side="right"
          onClick={() =>
            editor.commit(`Switch ${intruder.name} ${off ? "on" : "off"}`, (d) => {
              const i = intruderById(d, intruder.id);
              if (i) i.on = off;
            })
          }
        >
          {off ? <EyeOff size={15} /> : <Eye size={15} />}
        </IconButton>
      </div>
      {selected && (
        <ul className="pb-1.5">
          {intruder.layers.toReversed().map((l) => (
            <LayerRow key={l.id} layer={l} index={intruder.layers.indexOf(l)} count={intruder.layers.length} />
          ))}
        </ul>
      )}
    </li>
  );
}

/** One layer of an intruder: which it is, its frames, on or off, locked, and its place in the order. */
function LayerRow({ layer: l, index, count }: { layer: Layer; index: number; count: number }) {
  const editor = useEditor();
  const s = useEditorPick("recipe", "selection");
  const { show } = useCounting();
  const on = s.selection?.kind === "layer" && s.selection.layer === l.id;
  const what = isPatch(l)
    ? `Patch, ${sourceWords(l, s.recipe.plates, show)}`
    : isPaint(l)
      ? `Painted, ${l.touches.length} touches`
      : isReframe(l)
        ? "Reframed"
        : "Light";
  const name = l.name || what;
  const small = (label: string, icon: ReactNode, run: () => void) => (
    <IconButton key={label} name={label} side="right" className="!h-6 !w-5 shrink-0" onClick={run}>
      {icon}
    </IconButton>
  );
  return (
    <li className="flex items-center pr-2 pl-6">
      <button
        type="button"
        aria-pressed={on}
        onClick={() => editor.selection.select({ kind: "layer", layer: l.id })}
        onDoubleClick={() => isPaint(l) && editor.mode.openPaint(l.id)}
        className={clsx(
          "flex h-7 min-w-0 flex-1 items-center justify-between gap-2 rounded-md px-1 text-left",
          on ? "text-ochre" : "text-dim hover:text-bone",
          l.on === false && "line-through",
        )}
      >
        <span className="truncate">{name}</span>
        <span className="num text-[12px]">
          {show(l.in)}–{show(l.out)}
        </span>
      </button>
      {on && (
        <>
          {index < count - 1 && small("Lay it higher", <ArrowUp size={13} />, () => editor.patches.orderLayer(l.id, index + 1))}
          {index > 0 && small("Lay it lower", <ArrowDown size={13} />, () => editor.patches.orderLayer(l.id, index - 1))}
          {small(l.on === false ? `Switch the layer on` : `Switch the layer off`, l.on === false ? <EyeOff size={13} /> : <Eye size={13} />, () =>
            editor.patches.setOn(l, l.on === false),
          )}
          {small(l.locked ? "Unlock the layer" : "Lock the layer", l.locked ? <Lock size={13} /> : <LockOpen size={13} />, () =>
            editor.patches.setLocked(l, !l.locked),
          )}
        </>
      )}
    </li>
  );
}
