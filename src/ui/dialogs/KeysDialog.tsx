"use client";
import { Dialog } from "radix-ui";
import { KEYS } from "@/client/input/keys";
import { useBench, useBenchState } from "../bench/context";
import { Button } from "../parts/Button";

const GROUPS = ["Time", "Picture", "Work", "Tools"] as const;

/** Every key, in groups. */
export function KeysDialog() {
  const bench = useBench();
  const open = useBenchState((s) => s.dialog === "keys");
  return (
    <Dialog.Root open={open} onOpenChange={(o) => bench.set({ dialog: o ? "keys" : null })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content className="fixed top-1/2 left-1/2 z-50 max-h-[90vh] w-[860px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-md border border-line bg-panel p-5">
          <div className="mb-3 flex items-center justify-between">
            <Dialog.Title className="text-[17px] font-semibold">Keys</Dialog.Title>
            <Dialog.Close asChild>
              <Button>Close</Button>
            </Dialog.Close>
          </div>
          <Dialog.Description className="mb-4 text-dim">
            One hand on the keys, one on the picture. The wheel zooms; with Shift it moves sideways.
          </Dialog.Description>
          <div className="grid grid-cols-2 gap-x-8 gap-y-5">
            {GROUPS.map((g) => (
              <section key={g} aria-label={g}>
                <h3 className="mb-1 border-b border-line pb-1 font-semibold text-dim">{g}</h3>
                <dl>
                  {KEYS.filter((k) => k.group === g).map((k) => (
                    <div key={k.id} className="flex justify-between gap-4 py-0.5">
                      <dt>{k.what}</dt>
                      <dd className="num whitespace-nowrap text-ochre">{k.shown}</dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
