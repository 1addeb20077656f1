import type { Copied } from "@/client/bench/patches";
import type { Bench } from "@/client/bench/store";

/** Where a copy lies, so that every shot and every tab on this machine can paste it. */
const PLACE = "umber-moth/copied";

export function copyToClipboard(bench: Bench): void {
  const copied = bench.copied();
  if (!copied) return bench.say("There is nothing to copy: select a patch or an intruder, or pick keyframes on the timeline.");
  localStorage.setItem(PLACE, JSON.stringify(copied));
  const count = copied.format === "umber-moth/layers" ? copied.layers.length : 0;
  bench.say(
    copied.format === "umber-moth/keyframes"
      ? "Keyframes copied."
      : `${count === 1 ? "The patch" : `${count} layers`} of ${copied.intruder} copied: paste in this shot or another.`,
  );
}

export function pasteFromClipboard(bench: Bench): void {
  const text = localStorage.getItem(PLACE);
  if (!text) return bench.say("Nothing was copied yet.");
  bench.paste(JSON.parse(text) as Copied);
}
