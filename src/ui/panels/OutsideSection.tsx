"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { endOutside, fetchOutside, writeOutside } from "@/client/api";
import { useEditor, useEditorPick } from "../editor/context";
import { Button } from "../parts/Button";
import { Section } from "./Section";

type Kind = Parameters<typeof writeOutside>[1]["kind"];
const KINDS: [Kind, string][] = [
  ["ora", "OpenRaster, with layers"],
  ["png16", "PNG, 16 bits"],
  ["tiff16", "TIFF, 16 bits"],
  ["png8", "PNG, 8 bits"],
];

/** Writes a plate out to be retouched in another program, and waits for it to come back. */
export function OutsideSection({ plate }: { plate: string }) {
  const editor = useEditor();
  const s = useEditorPick("shot", "frame", "recipe");
  const client = useQueryClient();
  const [kind, setKind] = useState<Kind>("ora");
  const key = ["outside", s.shot.id, plate];
  const where = useQuery({ queryKey: key, queryFn: () => fetchOutside(s.shot.id, plate) });
  const path = where.data?.path;
  const [under, setUnder] = useState(false);
  const run = async (ask: () => Promise<{ path: string | null }>) => {
    setUnder(true);
    try {
      client.setQueryData(key, await ask());
    } catch (e) {
      toast.error(e instanceof Error ? e.message : String(e), { duration: 12000 });
    }
    setUnder(false);
  };
  const returned = !!s.recipe.plates[plate]?.returned;
  return (
    <Section title="Retouched elsewhere">
      {path ? (
        <>
          <p className="mb-1.5 text-dim">Waits for this file to be saved; it comes back by itself:</p>
          <p className="num mb-2 text-[12px] break-all select-all" data-testid="outside-path">
            {path}
          </p>
        </>
      ) : (
        <p className="mb-1.5 text-dim">Writes the plate to a file that is watched: save it in any program, and it is here.</p>
      )}
      <div className="flex gap-2">
        <select
          aria-label="Kind of file"
          className="h-7 min-w-0 flex-1 rounded-md border border-line bg-ground px-1"
          value={kind}
          onChange={(e) => setKind(e.target.value as Kind)}
        >
          {KINDS.map(([k, label]) => (
            <option key={k} value={k}>
              {label}
            </option>
          ))}
        </select>
        <Button
          disabled={under}
          onClick={() =>
            void run(async () => {
              await editor.queue.settled();
              return writeOutside(s.shot.id, { plate, kind, frame: s.frame });
            })
          }
        >
          {under ? "Being written …" : path ? "Write again" : "Write out"}
        </Button>
      </div>
      {path && (
        <Button className="mt-2 w-full" onClick={() => void run(() => endOutside(s.shot.id, plate))}>
          Stop waiting, remove the file
        </Button>
      )}
      {returned && (
        <Button
          className="mt-2 w-full"
          onClick={() => editor.commit("Drop what came back from outside", (d) => void delete d.plates[plate].returned)}
        >
          Drop what came back
        </Button>
      )}
    </Section>
  );
}
