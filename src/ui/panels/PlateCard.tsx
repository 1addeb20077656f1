"use client";
import { useBench, useBenchState } from "../bench/context";
import { Button } from "../parts/Button";
import { saveFile } from "./save";
import { Section } from "./Section";

/** A plate that is selected, not opened. */
export function PlateCard({ id }: { id: string }) {
  const bench = useBench();
  const plate = useBenchState((s) => s.recipe.plates[id]);
  const shot = useBenchState((s) => s.shot.id);
  const users = useBenchState((s) =>
    s.recipe.intruders
      .filter((i) => i.layers.some((l) => "source" in l && (l.source as { plate?: string }).plate === id))
      .map((i) => i.name)
      .join(", "),
  );
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">{plate.name ?? id}</h2>
      </div>
      <Section title="Plate">
        <p className="mb-2 text-dim">
          {plate.from.frame !== undefined ? `Held from frame ${plate.from.frame}.` : "Brought in."}{" "}
          {plate.touches.length ? `${plate.touches.length} touches.` : "Untouched."} {users ? `Used by ${users}.` : "Not used yet."}
        </p>
        <div className="space-y-2">
          <Button tone="main" className="w-full" onClick={() => bench.openPlate(id)}>
            Retouch
          </Button>
          {plate.from.frame !== undefined && (
            <Button className="w-full" onClick={() => bench.goTo(plate.from.frame!)}>
              Go to frame {plate.from.frame}
            </Button>
          )}
          <Button className="w-full" onClick={() => void saveFile(`/api/shots/${shot}/still?what=plate&frame=0&plate=${id}`)}>
            Save as PNG
          </Button>
          <Button tone="fault" className="w-full" onClick={bench.removeSelected}>
            Delete
          </Button>
        </div>
      </Section>
    </>
  );
}
