import type { Copied } from "@/client/editor/actions/copied";
import type { Editor } from "@/client/editor/editor";

/** Where a copy lies, so that every shot and every tab on this machine can paste it. */
const PLACE = "umber-moth/copied";

export function copyToClipboard(editor: Editor): void {
  const copied = editor.patches.copied();
  if (!copied) return editor.say("There is nothing to copy: select a patch or an intruder, or pick keyframes on the timeline.");
  localStorage.setItem(PLACE, JSON.stringify(copied));
  const count = copied.format === "umber-moth/layers" ? copied.layers.length : 0;
  editor.say(
    copied.format === "umber-moth/keyframes"
      ? "Keyframes copied."
      : `${count === 1 ? "The patch" : `${count} layers`} of ${copied.intruder} copied: paste in this shot or another.`,
  );
}

export function pasteFromClipboard(editor: Editor): void {
  const text = localStorage.getItem(PLACE);
  if (!text) return editor.say("Nothing was copied yet.");
  editor.patches.paste(JSON.parse(text) as Copied);
}
