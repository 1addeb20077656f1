"use client";
import { homeOf, sourceOf } from "@/client/editor/retouch-target";
import type { TouchSource } from "@/core/document/touch";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";
import { NumberField } from "../../parts/NumberField";
import { FrameField } from "../FrameFields";
import { Section } from "../Section";
import { Tick } from "./Tick";
import { openPlate } from "@/client/editor/state/mode";

type Kind = "self" | "plate" | "frame" | "slip" | "take";

/** Where a tool takes its picture from: which one, which point of it, how it is turned. */
export function SourceSection({ point }: { point: boolean }) {
  const editor = useEditor();
  const s = useEditorPick("retouch", "recipe", "mode", "frame", "shot");
  const r = s.retouch;
  const source = sourceOf(r);
  const set = (from: TouchSource | null) => {
    editor.retouch.set({ from: { ...r.from, [r.tool]: from }, ...(from === null && r.from[r.tool] ? { point: null } : {}) });
    editor.refresh();
  };
  const others = Object.entries(s.recipe.plates).filter(([id]) => id !== openPlate(s));
  const takes = Object.entries(s.shot.takes).filter(([k]) => k !== s.recipe.shot.take);
  const home = homeOf(s);
  const kinds: [Kind, string, string | null][] = [
    ...(r.tool === "uncover" ? [] : [["self", r.tool === "heal" ? "near by, or this picture" : "this picture", null] as [Kind, string, null]]),
    ["plate", "a plate", others.length ? null : "there is no other"],
    ["frame", "a frame", home ? null : "this plate is no frame of a take"],
    ["slip", "so many frames away", home ? null : "this plate is no frame of a take"],
    ["take", "another take", takes.length ? null : "the shot has only one"],
  ];
  const kind: Kind | "" = !source
    ? source === null
      ? "self"
      : ""
    : source.plate !== undefined
      ? "plate"
      : source.slip !== undefined
        ? "slip"
        : source.take !== undefined && source.take !== s.recipe.shot.take
          ? "take"
          : "frame";
  const first: Record<Kind, () => TouchSource | null> = {
    self: () => null,
    plate: () => ({ plate: others.at(-1)![0] }),
    frame: () => ({ take: s.recipe.shot.take, frame: s.recipe.shot.out }),
    slip: () => ({ slip: 1 }),
    take: () => ({ take: takes[0][0], frame: s.frame }),
  };
  const last = (key: string) => (s.shot.takes[key]?.info?.frames ?? 1) - 1;
  const bent = point ? r.point !== null || !!source : true;
  return (
    <Section title="Takes its picture from">
      <select
        aria-label="Takes its picture from"
        className="mb-1 h-7 w-full rounded-md border border-line bg-ground px-1.5"
        value={kind}
        onChange={(e) => set(first[e.target.value as Kind]())}
      >
        {kind === "" && <option value="">choose …</option>}
        {kinds.map(([k, label, why]) => (
          <option key={k} value={k} disabled={!!why}>
            {why ? `${label} (${why})` : label}
          </option>
        ))}
      </select>
      {source?.plate !== undefined && (
        <select
          aria-label="Plate it takes from"
          className="h-7 w-full rounded-md border border-line bg-ground px-1.5"
          value={source.plate}
          onChange={(e) => set({ plate: e.target.value })}
        >
          {others.map(([id, p]) => (
            <option key={id} value={id}>
              {p.name ?? id}
            </option>
          ))}
        </select>
      )}
      {kind === "take" && takes.length > 1 && (
        <select
          aria-label="Take it takes from"
          className="h-7 w-full rounded-md border border-line bg-ground px-1.5"
          value={source!.take}
          onChange={(e) => set({ take: e.target.value, frame: Math.min(source!.frame ?? 0, last(e.target.value)) })}
        >
          {takes.map(([k, t]) => (
            <option key={k} value={k}>
              {t.name}
            </option>
          ))}
        </select>
      )}
      {source?.frame !== undefined && (
        <FrameField
          label="Frame"
          value={source.frame}
          min={0}
          max={last(source.take!)}
          onDrag={(v) => set({ ...source, frame: v })}
          onCommit={(v) => set({ ...source, frame: v })}
        />
      )}
      {source?.slip !== undefined && (
        <NumberField
          label="Slip"
          value={source.slip}
          min={-last(s.recipe.shot.take)}
          max={last(s.recipe.shot.take)}
          unit="f"
          onDrag={(v) => set({ slip: v })}
          onCommit={(v) => set({ slip: v })}
        />
      )}
      {source && <Tick label="Takes on the light of this picture" on={r.light} onChange={(light) => editor.retouch.set({ light })} />}
      {point && (
        <p className="text-dim">
          {!r.point ? (
            <>
              {source ? "From the same place." : r.tool === "heal" ? "Texture is found near by." : "No point is set."}{" "}
              <kbd className="num text-ochre">X</kbd> over good picture sets the point{source ? " elsewhere" : ""}.
            </>
          ) : r.point.offset ? (
            <>
              Travels with the brush, <span className="num">{r.point.offset.join(", ")}</span> px away. <kbd className="num text-ochre">X</kbd> sets
              it anew, <kbd className="num text-ochre">Shift WASD</kbd> nudge it.
            </>
          ) : (
            <>
              Set at <span className="num">{r.point.at.map(Math.round).join(", ")}</span>.{" "}
              {r.anew ? "Every stroke begins there." : "The first stroke ties it to the brush."}
            </>
          )}
        </p>
      )}
      {point && <Tick label="Every stroke begins at the point anew" on={r.anew} onChange={(anew) => editor.retouch.set({ anew })} />}
      {point && r.point && (
        <Button className="mb-1 h-6 px-2 text-[12px]" onClick={() => editor.retouch.set({ point: null })}>
          Forget the point
        </Button>
      )}
      {bent && (
        <>
          <NumberField
            label="Scale"
            value={Math.round(100 * r.scale)}
            min={10}
            max={1000}
            unit="%"
            reset={100}
            onDrag={(v) => editor.retouch.set({ scale: v / 100 })}
            onCommit={(v) => editor.retouch.set({ scale: v / 100 })}
          />
          <NumberField
            label="Turn"
            value={r.angle}
            min={-360}
            max={360}
            step={0.5}
            unit="°"
            reset={0}
            onDrag={(v) => editor.retouch.set({ angle: v })}
            onCommit={(v) => editor.retouch.set({ angle: v })}
          />
          <Tick label="Mirrored" on={r.mirror} onChange={(mirror) => editor.retouch.set({ mirror })} />
        </>
      )}
    </Section>
  );
}
