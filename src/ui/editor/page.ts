import type { Page } from "@/client/editor/commands/command";
import type { Editor } from "@/client/editor/editor";
import { panBy, quarterOf, turnedStep, zoomBy } from "../viewer/zoom";
import { copyToClipboard, pasteFromClipboard } from "./clipboard";
import { togglePanes } from "./folding";

const focused = () => document.activeElement as HTMLElement | null;

/** What commands do on this page. */
export const pageFor = (editor: Editor): Page => ({
  typeFrame: () => document.querySelector<HTMLInputElement>("[data-go-to]")?.focus(),
  focusPicture: () => document.querySelector<HTMLElement>("[data-testid=viewer]")?.focus(),
  togglePanes,
  copy: () => copyToClipboard(editor),
  paste: () => pasteFromClipboard(editor),
  zoomBy: (factor) => zoomBy(editor, factor),
  panBy: (dx, dy) => panBy(editor, dx, dy),
  turned: (right, down) => turnedStep(quarterOf(editor.store.getState()), right, down),
  pressFocused() {
    const el = focused();
    if (!el || !/^(BUTTON|A)$/.test(el.tagName)) return false;
    el.click();
    return true;
  },
  unfocus() {
    const el = focused();
    if (el?.tagName === "BUTTON") el.blur();
  },
});
