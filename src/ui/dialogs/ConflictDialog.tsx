"use client";
import { AlertDialog } from "radix-ui";
import { useEditorState } from "../editor/context";
import { Button } from "../parts/Button";

/** Somebody changed the same thing elsewhere: the gesture is kept, and asked about. */
export function ConflictDialog() {
  const c = useEditorState((s) => s.conflict);
  return (
    <AlertDialog.Root open={!!c}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <AlertDialog.Content className="fixed top-1/2 left-1/2 z-50 w-[440px] -translate-x-1/2 -translate-y-1/2 rounded-md border border-line bg-panel p-5">
          <AlertDialog.Title className="mb-2 text-[17px] font-semibold">Changed elsewhere</AlertDialog.Title>
          <AlertDialog.Description className="mb-4 text-dim">
            Another window stored “{c?.theirs}” while “{c?.mine}” was on its way, and both change the same thing. Which one holds?
          </AlertDialog.Description>
          <div className="flex justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button onClick={() => c?.answer("theirs")}>The other window&apos;s</Button>
            </AlertDialog.Cancel>
            <AlertDialog.Action asChild>
              <Button tone="main" onClick={() => c?.answer("mine")}>
                Mine, on top
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
