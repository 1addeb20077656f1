"use client";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { fetchDependents, remove } from "@/client/api";
import type { Dependents } from "@/wire/media";
import { Button } from "../parts/Button";
import { Modal } from "../parts/Modal";

const many = (n: number, one: string, more = `${one}s`) => (n === 1 ? `1 ${one}` : `${n} ${more}`);

/** What goes with a take or a production, line by line. */
function lines(d: Dependents, what: "take" | "production"): string[] {
  return [
    ...(what === "production" && d.takes.length ? [`${many(d.takes.length, "take")}: ${d.takes.join(", ")}`] : []),
    ...(d.shots.length ? [`${many(d.shots.length, "shot")} with ${many(d.edits, "stored edit")}: ${d.shots.join(", ")}`] : []),
    ...(d.renders ? [many(d.renders, "finished render")] : []),
    d.copies ? `${many(d.copies, "copy", "copies")} of footage kept by Umber Moth` : "No footage: the original stays where it lies.",
  ];
}

/** Asks before a take or a production goes, naming all that goes with it. */
export function RemoveDialog({ what, id, onClose }: { what: "take" | "production"; id: string; onClose: () => void }) {
  const d = useQuery({ queryKey: ["dependents", what, id], queryFn: () => fetchDependents(what, id), staleTime: 0 });
  const [under, setUnder] = useState(false);
  const go = async () => {
    setUnder(true);
    try {
      await remove(what, id);
    } catch (e) {
      toast.error(e instanceof Error ? e.message : String(e), { duration: 12000 });
    }
    onClose();
  };
  const used = d.data?.usedBy.length;
  return (
    <Modal
      title={d.data ? `Remove “${d.data.name}”?` : "Remove?"}
      about={used ? undefined : "This cannot be undone. With it go:"}
      onClose={onClose}
      foot={
        <>
          <Button onClick={onClose}>Keep it</Button>
          {!used && (
            <Button tone="fault" disabled={!d.data || under} onClick={() => void go()}>
              Remove
            </Button>
          )}
        </>
      }
    >
      {d.error && (
        <p role="alert" className="text-brick">
          {d.error.message}
        </p>
      )}
      {d.data && used ? (
        <p>It cannot go while other shots take pictures from it: {d.data.usedBy.join(", ")}. Take its patches out there first.</p>
      ) : (
        <ul className="list-disc space-y-1 pl-5" aria-label="What goes with it">
          {d.data && lines(d.data, what).map((l) => <li key={l}>{l}</li>)}
        </ul>
      )}
    </Modal>
  );
}
