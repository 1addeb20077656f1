"use client";
import { atFrame } from "@/client/editor/counting";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { fetchState } from "@/client/api";
import { type SourceKind, sourceKind } from "@/client/editor/source-kind";
import { sourceShows } from "@/client/editor/seen";
import type { Dragging } from "@/client/editor/state/document";
import { intruderOf, layerTitle } from "@/recipe/query";
import { takeOf } from "@/client/editor/state/select";
import type { PatchLayer } from "@/core/document/layer";
import type { Plate } from "@/core/document/plate";
import type { Draft } from "@/recipe/edits";
import { useEditor, useEditorPick } from "../../editor/context";
import { useCounting } from "../../editor/usePreferences";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { Section } from "../Section";
import { FrameField } from "../FrameFields";
import { KeyedField } from "./KeyedField";
import { Borrowed, Follow } from "./SourceFields";

const KINDS: [SourceKind, string][] = [
  ["plate", "Plate"],
  ["hold", "Hold"],
  ["slip", "Slip"],
  ["stretch", "Stretch"],
  ["beside", "Beside"],
];
/** What each kind of picture is, for who does it the first time. */
const WORDS: Record<SourceKind, string> = {
  plate: "A clean picture, held.",
  hold: "One frame, held.",
  slip: "The take so many frames earlier or later, alive.",
  stretch: "A clean stretch, borrowed and repeated, alive.",
  beside: "Another place of the same frame, alive: drag it on the picture.",
};

/** Where the patch's picture comes from, and how it lies. */
export function PictureSection({ layer }: { layer: PatchLayer }) {
  const editor = useEditor();
  const { recipe, shot, tool } = useEditorPick("recipe", "shot", "tool");
  const title = layerTitle(recipe, layer.id);
  const info = takeOf({ recipe, shot }).info!;
  const plates = Object.entries(recipe.plates);
  const kind = sourceKind(layer);
  const { show } = useCounting();
  const [open, setOpen] = useState(false);
  const placed = open || kind === "beside" || tool === "source" || layer.place !== undefined;
  const change = (name: string, edit: (d: Draft<PatchLayer>) => void, dragging: Dragging = false) =>
    editor.patches.changeLayer(layer.id, name, edit, dragging);
  const place = (
    field: "x" | "y" | "scale" | "angle",
    label: string,
    o: { min: number; max: number; least?: number; most?: number; unit: string; reset: number; percent?: boolean },
  ) => (
    <KeyedField
      layer={layer}
      label={label}
      value={layer.place?.[field] ?? (field === "scale" ? 1 : 0)}
      put={(v, name, dragging) => change(name, (d) => void (d.place = { ...d.place, [field]: v } as typeof d.place), dragging)}
      step={0.1}
      {...o}
    />
  );
  const owner = intruderOf(recipe, layer.id);
  const shows = owner ? sourceShows(recipe, owner, layer, show) : null;
  const other = layer.source.take && layer.source.take !== recipe.shot.take ? shot.takes[layer.source.take] : null;
  const length = (other ?? takeOf({ recipe, shot })).info?.frames ?? info.frames;
  return (
    <Section title="Picture">
      <Choice
        name="Where the picture comes from"
        tight
        options={KINDS}
        value={kind}
        onChange={(k) => editor.patches.setSource(layer, k)}
        reasons={plates.length ? {} : { plate: "There is no plate yet: go to a clean frame and press P." }}
      />
      <p className="py-1 text-[12px] text-dim">{WORDS[kind]}</p>
      {shows && (
        <p role="status" className="pb-1 text-[12px] text-brick">
          {shows}
        </p>
      )}
      {kind === "plate" && (
        <label className="flex h-8 items-center gap-2">
          <span className="w-[84px] shrink-0 text-dim">Plate</span>
          <select
            className="h-7 w-[118px] rounded-md border border-line bg-ground px-1.5"
            value={layer.source.plate}
            onChange={(e) => change(`Picture of ${title}: ${recipe.plates[e.target.value].name}`, (d) => void (d.source = { plate: e.target.value }))}
          >
            {plates.map(([id, p]) => (
              <option key={id} value={id}>
                {p.name ?? id}
              </option>
            ))}
          </select>
        </label>
      )}
      {kind === "plate" && (
        <Button className="mt-1 w-full" onClick={() => editor.mode.openPlate(layer.source.plate!)}>
          Retouch this plate
        </Button>
      )}
      {kind === "plate" && hasAlpha(recipe.plates[layer.source.plate!]) && (
        <label className="flex h-8 items-center gap-2">
          <span className="w-[84px] shrink-0 text-dim">Its own alpha</span>
          <input
            type="checkbox"
            className="h-4 w-4 accent-ochre"
            checked={layer.source.alpha !== "ignore"}
            onChange={(e) =>
              change(
                `${e.target.checked ? "Use" : "Leave aside"} the transparency of the picture of ${title}`,
                (d) => void (d.source.alpha = e.target.checked ? "use" : "ignore"),
              )
            }
          />
          <span className="text-dim">is used</span>
        </label>
      )}
      {kind !== "plate" && kind !== "beside" && <TakeChoice layer={layer} />}
      {kind === "hold" && (
        <FrameField
          label="Frame"
          value={layer.source.hold ?? 0}
          min={0}
          max={length - 1}
          onDrag={(v) => change("Hold", (d) => void (d.source.hold = v), true)}
          onCommit={(v) => change(`Hold frame ${atFrame(v)} for ${title}`, (d) => void (d.source.hold = v))}
        />
      )}
      {kind === "stretch" && <Borrowed layer={layer} last={length - 1} change={change} />}
      {kind === "plate" || kind === "hold" ? <Follow layer={layer} /> : null}
      {kind === "slip" && (
        <KeyedField
          layer={layer}
          label="Slip"
          value={layer.source.slip ?? 0}
          put={(v, name, dragging) => change(name, (d) => void (d.source.slip = v as typeof d.source.slip), dragging)}
          min={-length}
          max={length}
          unit="f"
          reset={0}
        />
      )}
      {placed && place("x", "Across", { min: -info.width, max: info.width, least: -1e5, most: 1e5, unit: "px", reset: 0 })}
      {placed && place("y", "Down", { min: -info.height, max: info.height, least: -1e5, most: 1e5, unit: "px", reset: 0 })}
      {placed && place("scale", "Size", { min: 10, max: 400, least: 1, most: 10_000, unit: "%", reset: 100, percent: true })}
      {placed && place("angle", "Turn", { min: -180, max: 180, least: -36_000, most: 36_000, unit: "°", reset: 0 })}
      {!placed && (
        <Button className="mt-1 h-6 px-2 text-[12px]" onClick={() => setOpen(true)}>
          Move, size, turn …
        </Button>
      )}
    </Section>
  );
}

/** Whether a plate may have transparency of its own: only a picture that was brought in has. */
const hasAlpha = (p: Plate | undefined) => p?.from.asset !== undefined;

/** From which take of the production the picture comes; nothing where there is only one. */
function TakeChoice({ layer }: { layer: PatchLayer }) {
  const editor = useEditor();
  const { shot, recipe } = useEditorPick("shot", "recipe");
  const state = useQuery({ queryKey: ["state"], queryFn: fetchState, staleTime: 30_000 });
  const own = takeOf({ recipe, shot });
  const takes = state.data?.productions.find((p) => p.id === shot.production.id)?.takes.filter((t) => t.state === "ready") ?? [];
  // a patch takes samples as they are, so a take has to be of the shot's own kind
  const kind = (t: typeof own) => JSON.stringify([t.info?.width, t.info?.height, t.info?.format]);
  const fits = [own, ...takes.filter((t) => t.id !== own.id && kind(t) === kind(own))];
  if (fits.length < 2) return null;
  const now = shot.takes[layer.source.take ?? recipe.shot.take]?.id ?? own.id;
  return (
    <label className="flex h-8 items-center gap-2">
      <span className="w-[84px] shrink-0 text-dim">Take</span>
      <select
        aria-label="Take the picture comes from"
        className="h-7 w-[118px] rounded-md border border-line bg-ground px-1.5"
        value={now}
        onChange={(e) =>
          editor.patches.setTake(
            layer,
            fits.find((t) => t.id === e.target.value)!,
          )
        }
      >
        {fits.map((t) => (
          <option key={t.id} value={t.id}>
            {t.id === own.id ? "this take" : t.name}
          </option>
        ))}
      </select>
    </label>
  );
}
