"use client";
import { ImageDown, Trash2 } from "lucide-react";
import { layerTitle, takeOf } from "@/client/bench/state";
import { useMemo } from "react";
import type { Mask, PatchLayer } from "@/core/document";
import { maskMatte } from "@/core/shape/mask";
import { isKeyed, type Keyed, valueAt, withKey, withoutKey, withValue } from "@/core/time/keyed";
import type { Draft } from "@/recipe/edits";
import { useBench, useBenchState } from "../bench/context";
import { Borrowed, Follow } from "./SourceFields";
import { Button, IconButton } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { NumberField } from "../parts/NumberField";
import { saveFile } from "./save";
import { Section } from "./Section";

type Kind = "plate" | "hold" | "slip" | "stretch";

const kindOf = ({ source: s }: PatchLayer): Kind =>
  s.plate !== undefined ? "plate" : s.hold !== undefined ? "hold" : s.from !== undefined ? "stretch" : "slip";

/** Whether a mask is so thin, or so far shrunk, that its α nowhere reaches 1; judged at a quarter of the size. */
function useThin(mask: Mask | null, frame: number, info: { width: number; height: number }): boolean {
  return useMemo(() => {
    if (!mask || mask.invert || mask.shapes.some((x) => x.kind === "picture" || x.kind === "painted")) return false;
    const m = maskMatte(mask, frame, Math.ceil(info.width / 4), Math.ceil(info.height / 4), 0.25);
    return !m.data.some((v) => v > 0.98);
  }, [mask, frame, info.width, info.height]);
}

/** What a patch shows, its edge, its time, its place. */
export function PatchCard({ layer }: { layer: PatchLayer }) {
  const bench = useBench();
  const s = useBenchState((x) => x);
  const { frame, recipe, shot } = s;
  const title = layerTitle(recipe, layer.id);
  const info = takeOf(s).info!;
  const intruder = recipe.intruders.find((i) => i.layers.some((l) => l.id === layer.id))!;
  const plates = Object.entries(recipe.plates);
  const kind = kindOf(layer);
  const change = (name: string, edit: (d: Draft<PatchLayer>) => void, dragging = false) => bench.changeLayer(layer.id, name, edit, dragging);

  /** A field over a keyed number: shows its value here, sets it here, and can key it. */
  const keyedField = (
    label: string,
    k: Keyed<number>,
    put: (d: Draft<PatchLayer>, v: Keyed<number>) => void,
    o: { min: number; max: number; step?: number; unit?: string; reset?: number; percent?: boolean },
  ) => {
    const f = o.percent ? 100 : 1;
    const set = (v: number, dragging: boolean) =>
      change(`${label} of ${title}: ${v}${o.unit ?? ""}`, (d) => put(d, withValue(k, frame, v / f)), dragging);
    const here = isKeyed(k) && k.keys.some((x) => x.f === frame);
    return (
      <NumberField
        label={label}
        value={valueAt(k, frame) * f}
        min={o.min}
        max={o.max}
        step={o.step}
        unit={o.unit}
        reset={o.reset}
        onDrag={(v) => set(v, true)}
        onCommit={(v) => set(v, false)}
        keyed={{
          here,
          any: isKeyed(k),
          toggle: () =>
            change(`${here ? "Remove" : "Set"} a keyframe of ${label.toLowerCase()}`, (d) => put(d, here ? withoutKey(k, frame) : withKey(k, frame))),
        }}
      />
    );
  };
  const mask = "use" in layer.mask ? null : layer.mask;
  const thin = useThin(s.playing ? null : mask, frame, info);
  const setKind = (next: Kind) =>
    change(`Picture of ${title}: ${next}`, (d) => {
      const take = recipe.shot.take;
      if (next === "plate") d.source = { plate: plates.at(-1)![0] };
      else if (next === "hold") d.source = { take, hold: Math.max(0, layer.in - 1) };
      else if (next === "slip") d.source = { take, slip: 0 };
      else d.source = { take, from: recipe.shot.in, to: Math.max(recipe.shot.in, Math.min(recipe.shot.out, layer.in - 1)), repeat: "loop" };
    });
  return (
    <>
      <div className="flex items-center gap-2 border-b border-line px-3.5 py-2">
        <input
          aria-label="Name of the intruder"
          key={intruder.name}
          defaultValue={intruder.name}
          className="h-7 min-w-0 flex-1 rounded-md border border-transparent bg-transparent px-1.5 font-semibold outline-none hover:border-line focus:border-ochre"
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter" || e.key === "Escape") {
              if (e.key === "Escape") e.currentTarget.value = intruder.name;
              e.currentTarget.blur();
            }
          }}
          onBlur={(e) => {
            const name = e.target.value.trim().slice(0, 200);
            if (name && name !== intruder.name)
              bench.commit(`Name it ${name}`, (d) => {
                const i = d.intruders.find((x) => x.id === intruder.id);
                if (i) i.name = name;
              });
          }}
        />
        <IconButton
          name="Save this patch as PNG with transparency"
          side="left"
          onClick={() => void saveFile(`/api/shots/${shot.id}/still?what=patch&frame=${frame}&layer=${layer.id}`)}
        >
          <ImageDown size={15} />
        </IconButton>
        <IconButton name="Delete this patch" keys="Del" side="left" onClick={bench.removeSelected}>
          <Trash2 size={15} />
        </IconButton>
      </div>
      <Section title="Picture">
        <Choice
          name="Where the picture comes from"
          options={[
            ["plate", "Plate"],
            ["hold", "Hold"],
            ["slip", "Slip"],
            ["stretch", "Stretch"],
          ]}
          value={kind}
          onChange={setKind}
          reasons={plates.length ? {} : { plate: "There is no plate yet: go to a clean frame and press P." }}
        />
        <div className="h-1.5" />
        {kind === "plate" && (
          <label className="flex h-8 items-center gap-2">
            <span className="w-[84px] shrink-0 text-dim">Plate</span>
            <select
              className="h-7 w-[118px] rounded-md border border-line bg-ground px-1.5"
              value={layer.source.plate}
              onChange={(e) =>
                change(`Picture of ${title}: ${recipe.plates[e.target.value].name}`, (d) => void (d.source = { plate: e.target.value }))
              }
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
          <Button className="mt-1 w-full" onClick={() => bench.openPlate(layer.source.plate!)}>
            Retouch this plate
          </Button>
        )}
        {kind === "hold" && (
          <NumberField
            label="Frame"
            value={layer.source.hold ?? 0}
            min={0}
            max={info.frames - 1}
            onDrag={(v) => change("Hold", (d) => void (d.source.hold = v), true)}
            onCommit={(v) => change(`Hold frame ${v} for ${title}`, (d) => void (d.source.hold = v))}
          />
        )}
        {kind === "stretch" && <Borrowed layer={layer} last={info.frames - 1} change={change} />}
        {kind === "plate" || kind === "hold" ? <Follow layer={layer} /> : null}
        {kind === "slip" &&
          keyedField("Slip", layer.source.slip ?? 0, (d, v) => void (d.source.slip = v as typeof d.source.slip), {
            min: -info.frames,
            max: info.frames,
            unit: "f",
            reset: 0,
          })}
        {keyedField("Across", layer.place?.x ?? 0, (d, v) => void (d.place = { ...d.place, x: v } as typeof d.place), {
          min: -info.width,
          max: info.width,
          step: 0.1,
          unit: "px",
          reset: 0,
        })}
        {keyedField("Down", layer.place?.y ?? 0, (d, v) => void (d.place = { ...d.place, y: v } as typeof d.place), {
          min: -info.height,
          max: info.height,
          step: 0.1,
          unit: "px",
          reset: 0,
        })}
        {keyedField("Size", layer.place?.scale ?? 1, (d, v) => void (d.place = { ...d.place, scale: v } as typeof d.place), {
          min: 1,
          max: 1000,
          step: 0.1,
          unit: "%",
          reset: 100,
          percent: true,
        })}
        {keyedField("Turn", layer.place?.angle ?? 0, (d, v) => void (d.place = { ...d.place, angle: v } as typeof d.place), {
          min: -360,
          max: 360,
          step: 0.1,
          unit: "°",
          reset: 0,
        })}
      </Section>
      {mask && (
        <Section title="Edge">
          {keyedField("Feather", mask.feather ?? 0, (d, v) => void ("use" in d.mask || (d.mask.feather = v as typeof d.mask.feather)), {
            min: 0,
            max: 300,
            unit: "px",
            reset: 0,
          })}
          {keyedField("Grow", mask.grow ?? 0, (d, v) => void ("use" in d.mask || (d.mask.grow = v as typeof d.mask.grow)), {
            min: -300,
            max: 300,
            unit: "px",
            reset: 0,
          })}
          <label className="flex h-8 items-center gap-2">
            <span className="w-[84px] shrink-0 text-dim">Inside out</span>
            <input
              type="checkbox"
              className="h-4 w-4 accent-ochre"
              checked={mask.invert ?? false}
              onChange={(e) =>
                change(
                  `${e.target.checked ? "Turn" : "Turn back"} the mask of ${title} inside out`,
                  (d) => void ("use" in d.mask || (d.mask.invert = e.target.checked)),
                )
              }
            />
            {mask.invert && <span className="text-dim">covers all but the shape</span>}
          </label>
          {thin && (
            <p className="text-dim">
              <span className="font-semibold text-bone">Thinner than its feather:</span> the mask never covers fully. Grow it, or feather it less.
            </p>
          )}
        </Section>
      )}
      <Section title="Time">
        <div className="flex h-8 items-center gap-2">
          <span className="w-[84px] shrink-0 text-dim">First, last</span>
          <div className="flex w-[118px] gap-1.5">
            <NumberField
              bare
              label="First frame"
              value={layer.in}
              min={0}
              max={layer.out}
              onDrag={(v) => change("First frame", (d) => void (d.in = v), true)}
              onCommit={(v) => change(`Begin ${title} at frame ${v}`, (d) => void (d.in = v))}
            />
            <NumberField
              bare
              label="Last frame"
              value={layer.out}
              min={layer.in}
              max={info.frames - 1}
              onDrag={(v) => change("Last frame", (d) => void (d.out = v), true)}
              onCommit={(v) => change(`End ${title} at frame ${v}`, (d) => void (d.out = v))}
            />
          </div>
        </div>
        <div className="flex h-8 items-center gap-2">
          <span className="w-[84px] shrink-0 text-dim">Fade in, out</span>
          <div className="flex w-[118px] gap-1.5">
            <NumberField
              bare
              label="Fade in"
              value={layer.fadeIn ?? 0}
              min={0}
              max={1000}
              onDrag={(v) => change("Fade in", (d) => void (d.fadeIn = v), true)}
              onCommit={(v) => change(`Fade ${title} in over ${v} frames`, (d) => void (d.fadeIn = v))}
            />
            <NumberField
              bare
              label="Fade out"
              value={layer.fadeOut ?? 0}
              min={0}
              max={1000}
              onDrag={(v) => change("Fade out", (d) => void (d.fadeOut = v), true)}
              onCommit={(v) => change(`Fade ${title} out over ${v} frames`, (d) => void (d.fadeOut = v))}
            />
          </div>
        </div>
        {keyedField("Opacity", layer.opacity ?? 1, (d, v) => void (d.opacity = v as typeof d.opacity), {
          min: 0,
          max: 100,
          unit: "%",
          reset: 100,
          percent: true,
        })}
      </Section>
    </>
  );
}
