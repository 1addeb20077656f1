"use client";
import { takesPoint, takesSource, TITLES } from "@/client/editor/retouch-target";
import { touchesOpen } from "@/client/editor/state/select";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberField } from "../../parts/NumberField";
import { saveFile } from "../../parts/save";
import { Section } from "../Section";
import { AidsSection, FenceSection } from "./AidsSection";
import { BrushSection } from "./BrushSection";
import { LookSection } from "./LookSection";
import { SourceSection } from "./SourceSection";
import { Tick } from "./Tick";
import { TouchCard } from "./TouchCard";
import { openPaint, openPlate } from "@/client/editor/state/mode";
import { stillUrl } from "@/client/api";

const HINTS: Partial<Record<keyof typeof TITLES, string>> = {
  graft: "Drag a loop round the area. Then drag the loop to good texture: the area shows it at once.",
  restore: "Paints the picture as it came, before any touch.",
};

/** What a tool of retouching is set to, in the order in which it is used; of a selected touch, what that is set to. */
export function RetouchCard() {
  const editor = useEditor();
  const s = useEditorPick("frame", "retouch", "mode", "recipe", "shot");
  const plate = openPlate(s);
  const paint = openPaint(s);
  const r = s.retouch;
  const chosen = touchesOpen(s).find((t) => t.id === r.touch);
  if (chosen) return <TouchCard key={chosen.id} touch={chosen} />;
  const loops = r.tool === "fill" || r.tool === "flat";
  const brushes = r.tool !== "graft" && !(loops && r.area === "loop");
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">{TITLES[r.tool]}</h2>
        {HINTS[r.tool] && <p className="mt-1 text-dim">{HINTS[r.tool]}</p>}
      </div>
      {paint && (
        <Section title="On which frames">
          <NumberField
            label="Holds for"
            value={r.holds}
            min={1}
            max={s.recipe.shot.out - s.recipe.shot.in + 1}
            unit="f"
            reset={1}
            onDrag={(v) => editor.retouch.set({ holds: v })}
            onCommit={(v) => editor.retouch.set({ holds: v })}
          />
          <Tick label="On to the next frame after each touch" on={r.stepOn} onChange={(stepOn) => editor.retouch.set({ stepOn })} />
          <Button
            className="mt-1.5 w-full"
            disabled={s.frame <= s.recipe.shot.in}
            title={s.frame <= s.recipe.shot.in ? "This is the shot’s first frame: there is none before it to carry on from" : undefined}
            onClick={() => editor.retouch.carry(null)}
          >
            Carry on the last frame’s touches <kbd className="num text-ochre">C</kbd>
          </Button>
        </Section>
      )}
      {loops && (
        <Section title="Area">
          <Choice
            name="How the area is marked"
            options={[
              ["brush", "brush over"],
              ["loop", "draw round"],
            ]}
            value={r.area}
            onChange={(area) => editor.retouch.set({ area })}
          />
          {r.tool === "flat" && <Tick label="One colour, even where it slopes" on={r.plain} onChange={(plain) => editor.retouch.set({ plain })} />}
        </Section>
      )}
      {brushes ? (
        <BrushSection />
      ) : (
        <Section title="Edge">
          <NumberField
            label="Feather"
            value={r.feather}
            min={0}
            max={200}
            unit="px"
            reset={4}
            onDrag={(v) => editor.retouch.set({ feather: v })}
            onCommit={(v) => editor.retouch.set({ feather: v })}
          />
        </Section>
      )}
      {takesSource(r.tool) && <SourceSection point={takesPoint(r.tool)} />}
      {r.tool === "fill" && <AidsSection />}
      <FenceSection />
      <LookSection />
      {plate && (
        <Section title="Plate">
          <Button className="w-full" onClick={() => void saveFile(stillUrl(s.shot.id, { what: "plate", frame: 0, plate: plate }))}>
            Save as PNG
          </Button>
        </Section>
      )}
    </>
  );
}
