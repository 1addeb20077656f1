"use client";
import { type ReactNode, useState } from "react";
import type { PatchLayer } from "@/core/document/layer";
import type { Keyed } from "@/core/time/keyed";
import { asDraft } from "@/recipe/edits";
import { useEditor } from "../../editor/context";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { KeyedField } from "../patch/KeyedField";
import { Section } from "../Section";
import { Figure } from "./Figure";
import type { ChangePatch } from "./change-patch";

const ON = [
  ["leave", "Leave it"],
  ["take", "Take it off"],
] as const;
const TONE = [
  ["footage", "The footage's"],
  ["patch", "The patch's"],
] as const;
const FILL = [
  ["picture", "Its picture"],
  ["rim", "Its rim alone"],
] as const;

const Row = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="flex h-9 items-center gap-2">
    <span className="w-[84px] shrink-0 text-dim">{label}</span>
    {children}
  </div>
);

/** Whether the difference along the rim is taken off, and how far inward. */
export function SeamSection({ layer, change }: { layer: PatchLayer; change: ChangePatch }) {
  const editor = useEditor();
  const [open, setOpen] = useState(false);
  const { seam } = layer;
  const field = (
    key: "strength" | "reach" | "detail" | "over" | "soft",
    label: string,
    o: { usual: number; min: number; max: number; unit: string; percent?: boolean },
  ) => (
    <KeyedField
      layer={layer}
      label={label}
      name={`${label} of the seam`}
      value={(seam?.[key] as Keyed<number> | undefined) ?? o.usual}
      put={(v, name, dragging) => change(name, (d) => void (d.seam && (d.seam[key] = asDraft(v))), dragging)}
      min={o.min}
      max={o.max}
      unit={o.unit}
      reset={o.percent ? o.usual * 100 : o.usual}
      percent={o.percent}
    />
  );
  return (
    <Section title="Seam" aside={<Figure part="seam" on={!!seam} />}>
      <Choice name="The seam" options={ON} value={seam ? "take" : "leave"} tight onChange={(v) => editor.matching.setSeam(layer, v === "take")} />
      {seam ? (
        <>
          <p className="py-1.5 text-[12px] text-dim">What still differs along the edge is taken off and fades inward.</p>
          {field("strength", "Strength", { usual: 0, min: 0, max: 100, unit: "%", percent: true })}
          {field("reach", "Reach", { usual: 200, min: 1, max: 2000, unit: "px" })}
          <Button className="mt-1 h-6 px-2 text-[12px]" aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? "Less" : "More"}
          </Button>
          {open && (
            <div className="pt-1.5">
              {field("over", "Only over", { usual: 0, min: 0, max: 64, unit: "codes" })}
              {field("soft", "Comes in over", { usual: 0, min: 0, max: 64, unit: "codes" })}
              <Row label="Filled with">
                <Choice
                  name="What fills the patch"
                  options={FILL}
                  value={seam.fill ?? "picture"}
                  tight
                  onChange={(v) =>
                    change(v === "rim" ? "Fill the patch from its rim" : "Fill the patch with its picture", (d) => void (d.seam && (d.seam.fill = v)))
                  }
                />
              </Row>
              {seam.fill !== "rim" && (
                <Row label="Tone kept">
                  <Choice
                    name="Whose tone is kept"
                    options={TONE}
                    value={seam.tone ?? "footage"}
                    tight
                    onChange={(v) =>
                      change(v === "patch" ? "Keep the patch's tone" : "Keep the footage's tone", (d) => void (d.seam && (d.seam.tone = v)))
                    }
                  />
                </Row>
              )}
              {seam.fill === "rim" && field("detail", "Keep detail", { usual: 0, min: 0, max: 64, unit: "px" })}
            </div>
          )}
        </>
      ) : (
        <p className="py-1.5 text-[12px] text-dim">For an edge that still shows when the light is right.</p>
      )}
    </Section>
  );
}
