"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { fetchCopies, goBackToCopy } from "@/client/api";
import type { Copies } from "@/wire/shot";
import { Button } from "../parts/Button";
import { Modal } from "../parts/Modal";

type Copy = Copies["copies"][number];
const when = (c: Copy) => new Date(c.at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" });
const why = (c: Copy) => (c.kind === "daily" ? "the day's copy" : "before the program was renewed");
const size = (c: Copy) => (c.bytes < 1e6 ? `${Math.ceil(c.bytes / 1e3)} kB` : `${(c.bytes / 1e6).toFixed(1)} MB`);

/** The kept copies of all shots and their histories, and the way back to one. `open` shows them at once, when the program cannot work on its data. */
export function KeptCopies({ open = false }: { open?: boolean }) {
  const client = useQueryClient();
  const query = useQuery({ queryKey: ["copies"], queryFn: fetchCopies, refetchInterval: open ? 2000 : false });
  const [listed, setListed] = useState(open);
  const [asked, setAsked] = useState<Copy | null>(null);
  const [under, setUnder] = useState(false);
  const list = query.data?.copies ?? [];
  if (!list.length) return open ? <p className="text-dim">There is no kept copy to go back to.</p> : null;
  const go = async (c: Copy) => {
    setUnder(true);
    try {
      await goBackToCopy(c.name);
      toast.success("Umber Moth is started on this copy.");
      // the engine ends and comes back: until then nothing answers
      for (let i = 0; i < 100; i++) {
        await new Promise((r) => setTimeout(r, 300));
        const now = await fetchCopies().catch(() => null);
        if (now && !now.trouble) break;
      }
      await client.invalidateQueries();
    } catch (e) {
      toast.error(e instanceof Error ? e.message : String(e), { duration: 12000 });
    }
    setUnder(false);
    setAsked(null);
  };
  return (
    <section className={open ? "" : "mt-3 text-dim"} aria-label="Kept copies">
      {!open && (
        <p className="flex items-center gap-3">
          <span>
            Copies of your work: <span className="num">{list.length}</span> kept, the newest of {when(list[0])}
          </span>
          <Button onClick={() => setListed(!listed)} aria-expanded={listed}>
            {listed ? "Hide them" : "Show them"}
          </Button>
        </p>
      )}
      {open && <h2 className="mt-4 text-[15px]">Kept copies of your work</h2>}
      {listed && (
        <ul className="mt-2 max-w-[640px] divide-y divide-line border-y border-line">
          {list.map((c) => (
            <li key={c.name} className="flex items-center gap-3 py-1.5">
              <span className="num text-bone">{when(c)}</span>
              <span className="min-w-0 flex-1 truncate text-dim">
                {why(c)}, {size(c)}
              </span>
              <Button onClick={() => setAsked(c)}>Go back to it</Button>
            </li>
          ))}
        </ul>
      )}
      {asked && (
        <Modal
          title={`Go back to ${when(asked)}?`}
          about="All shots and their histories become what they were then. What is there now is set aside in the data folder, not deleted; footage stays as it is."
          onClose={() => setAsked(null)}
          foot={
            <>
              <Button onClick={() => setAsked(null)}>Stay as it is</Button>
              <Button tone="main" disabled={under} onClick={() => void go(asked)}>
                Go back
              </Button>
            </>
          }
        >
          {null}
        </Modal>
      )}
    </section>
  );
}
