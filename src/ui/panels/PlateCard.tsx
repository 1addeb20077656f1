"use client";
import { useEffect } from "react";
import { words } from "@/client/editor/actions/plates";
import type { Plate } from "@/core/document/plate";
import { useEditor, useEditorPick } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { Button } from "../parts/Button";
import { useSourcePicture } from "../viewer/retouch/useSourcePicture";
import { zoomTo } from "../viewer/zoom";
import { OutsideSection } from "./OutsideSection";
import { saveFile } from "../parts/save";
import { Section } from "./Section";
import { SpotPicture } from "./SpotPicture";
import { stillUrl } from "@/client/api";

/** Where a plate comes from, in words. */
export function fromWords(p: Plate, takeName: (key: string) => string, show: (n: number) => string): string {
  const { from } = p;
  if (from.built) return `Built from frames ${show(from.built.in)} to ${show(from.built.out)}${from.built.average ? ", averaged" : ""}.`;
  if (from.line) return `Frame ${from.frame} of ${takeName(from.take!)}, brought into line: ${words(from.line)}.`;
  if (from.frame !== undefined) return `Still of frame ${show(from.frame)}.`;
  if (from.colour) return from.colour.planes.some(([, x, y]) => x || y) ? "A colour that slopes as its surroundings do." : "A plain colour.";
  return "A picture that was brought in.";
}

/** A plate that is selected, not opened. */
export function PlateCard({ id }: { id: string }) {
  const editor = useEditor();
  const s = useEditorPick("recipe", "shot");
  const { show } = useCounting();
  const plate = s.recipe.plates[id];
  const users = s.recipe.intruders
    .filter((i) => i.layers.some((l) => "source" in l && (l.source as { plate?: string }).plate === id))
    .map((i) => i.name)
    .join(", ");
  const count = plate.touches.length;
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">{plate.name ?? id}</h2>
      </div>
      <Section title="Plate">
        <p className="mb-2 text-dim">
          {fromWords(plate, (k) => s.shot.takes[k]?.name ?? k, show)}{" "}
          {count === 0 ? "Not retouched." : count === 1 ? "1 touch." : `${count} touches.`} {plate.returned ? "Retouched elsewhere. " : ""}
          {users ? `Used by ${users}.` : "Not used yet."}
        </p>
        <div className="space-y-2">
          <Button tone="main" className="w-full" onClick={() => editor.mode.openPlate(id)}>
            Retouch
          </Button>
          {plate.from.frame !== undefined && !plate.from.line && (
            <Button className="w-full" onClick={() => editor.transport.goTo(plate.from.frame!)}>
              Go to frame {show(plate.from.frame)}
            </Button>
          )}
          <Button className="w-full" onClick={() => void saveFile(stillUrl(s.shot.id, { what: "plate", frame: 0, plate: id }))}>
            Save as PNG
          </Button>
          <Button tone="fault" className="w-full" onClick={editor.patches.removeSelected}>
            Delete
          </Button>
        </div>
      </Section>
      {plate.from.built && <MadeOf id={id} />}
      <OutsideSection plate={id} />
    </>
  );
}

/** The frames a built plate is made of, and what was never clean. */
function MadeOf({ id }: { id: string }) {
  const { show } = useCounting();
  const editor = useEditor();
  const { builds } = useEditorPick("builds");
  const made = builds[id];
  const spots = made ? made.neverAreas.length + made.doubtAreas.length : 0;
  // once for all spots
  const picture = useSourcePicture(spots ? { plate: id } : null);
  useEffect(() => {
    void editor.plates.recallBuild(id);
  }, [editor, id]);
  if (!made) return null;
  const areas = (title: string, list: [number, number, number, number][]) =>
    list.length > 0 && (
      <>
        <h4 className="mt-2 mb-1 text-[12px] text-dim">{title}</h4>
        <ul className="grid grid-cols-3 gap-1.5">
          {list.slice(0, 6).map(([x, y, w, h]) => (
            <li key={`${x},${y}`}>
              <button
                type="button"
                aria-label={`Look at the spot at ${x}, ${y}`}
                title={`${w}×${h} pixels at ${x}, ${y}`}
                className="block w-full rounded-md border border-line p-0.5 hover:border-dim"
                onClick={() => {
                  editor.view.look({ how: "plate" });
                  zoomTo(editor, { x0: x, y0: y, x1: x + w, y1: y + h });
                }}
              >
                <SpotPicture picture={picture} box={{ x, y, w, h }} />
              </button>
            </li>
          ))}
        </ul>
        {list.length > 6 && <p className="mt-1 text-[12px] text-dim">and {list.length - 6} smaller ones</p>}
      </>
    );
  return (
    <Section title="Made of">
      <p>
        {made.used
          .slice(0, 4)
          .map(([n, share]) => `frame ${show(n)} (${share < 0.01 ? "<1" : Math.round(100 * share)} %)`)
          .join(", ")}
        {made.used.length > 4 ? ` and ${made.used.length - 4} more` : ""}
        {made.averaged ? ", then the mean of all that are clean" : ""}; {made.frames.length} were looked at.
      </p>
      {areas("Never surely clean: look, and retouch", made.neverAreas)}
      {areas("Two things are seen here for a while each: look which of them is the ground", made.doubtAreas)}
      {spots === 0 && <p className="mt-1 text-dim">Every area was clean in some frame.</p>}
    </Section>
  );
}
