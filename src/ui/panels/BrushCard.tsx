"use client";
import type { Brush } from "@/core/document";
import { useBench, useBenchPick } from "../bench/context";
import { Button } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { NumberField } from "../parts/NumberField";
import { saveFile } from "./save";
import { Section } from "./Section";

/** The brush, and where it takes its picture from. */
export function BrushCard() {
  const bench = useBench();
  const s = useBenchPick("brush", "brushTool", "plate", "recipe", "uncoverFrom", "cloneSource", "shot", "frame");
  const { brush, brushTool, plate } = s;
  const set = (part: Partial<Brush>) => bench.set({ brush: { ...brush, ...part } });
  const percent = (label: string, key: "hardness" | "opacity" | "flow", reset: number) => (
    <NumberField
      label={label}
      value={Math.round(brush[key] * 100)}
      min={key === "flow" ? 1 : 0}
      max={100}
      unit="%"
      reset={reset}
      onDrag={(v) => set({ [key]: v / 100 })}
      onCommit={(v) => set({ [key]: v / 100 })}
    />
  );
  const others = Object.entries(s.recipe.plates).filter(([id]) => id !== plate);
  const from = s.uncoverFrom;
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">{{ clone: "Clone", uncover: "Uncover", restore: "Restore" }[brushTool]}</h2>
      </div>
      <Section title="Brush">
        <NumberField
          label="Size"
          value={brush.size}
          min={1}
          max={2000}
          unit="px"
          reset={60}
          onDrag={(v) => set({ size: v })}
          onCommit={(v) => set({ size: v })}
        />
        {percent("Hardness", "hardness", 50)}
        {percent("Opacity", "opacity", 100)}
        {percent("Flow", "flow", 100)}
      </Section>
      {brushTool === "clone" && (
        <Section title="Source">
          <p className="text-dim">
            {!s.cloneSource ? (
              <>
                Point at clean picture and press <kbd className="num text-ochre">X</kbd>.
              </>
            ) : s.cloneSource.offset ? (
              <>
                Travels with the brush,{" "}
                <span className="num">
                  {s.cloneSource.offset[0]}, {s.cloneSource.offset[1]}
                </span>{" "}
                px away. <kbd className="num text-ochre">X</kbd> sets it anew.
              </>
            ) : (
              <>
                Set at{" "}
                <span className="num">
                  {Math.round(s.cloneSource.at[0])}, {Math.round(s.cloneSource.at[1])}
                </span>
                . The first stroke ties it to the brush.
              </>
            )}
          </p>
        </Section>
      )}
      {brushTool === "uncover" && (
        <Section title="Paint through to">
          <Choice
            name="Paint through to"
            options={[
              ["plate", "a plate"],
              ["frame", "a frame"],
            ]}
            value={from && "frame" in from ? "frame" : "plate"}
            reasons={others.length ? {} : { plate: "There is no other plate." }}
            onChange={(k) => bench.set({ uncoverFrom: k === "plate" ? { plate: others[0][0] } : { frame: s.frame } })}
          />
          <div className="h-1.5" />
          {from && "frame" in from && (
            <NumberField
              label="Frame"
              value={from.frame}
              min={s.recipe.shot.in}
              max={s.recipe.shot.out}
              onCommit={(v) => bench.set({ uncoverFrom: { frame: v } })}
            />
          )}
          {from && "plate" in from && (
            <select
              aria-label="Plate to uncover"
              className="h-7 w-full rounded-md border border-line bg-ground px-1.5"
              value={from.plate}
              onChange={(e) => bench.set({ uncoverFrom: { plate: e.target.value } })}
            >
              {others.map(([id, p]) => (
                <option key={id} value={id}>
                  {p.name ?? id}
                </option>
              ))}
            </select>
          )}
          {!from && <p className="text-dim">Choose one of the two.</p>}
        </Section>
      )}
      {brushTool === "restore" && (
        <Section title="Source">
          <p className="text-dim">The plate as it came, before any touch.</p>
        </Section>
      )}
      <Section title="Plate">
        <Button className="w-full" onClick={() => void saveFile(`/api/shots/${s.shot.id}/still?what=plate&frame=0&plate=${plate}`)}>
          Save as PNG
        </Button>
      </Section>
    </>
  );
}
