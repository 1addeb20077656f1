import type { Editor } from "../editor";
import type { ViewState } from "../state/view";
import type { HoldCommand, PressCommand } from "./command";

/** How far a key moves the picture, in screen pixels. */
const PAN = 80;

const press = (says: string, keys: string, run: PressCommand["run"]): PressCommand => ({ group: "Picture", says, keys, run });
const peek = (says: string, keys: string, what: NonNullable<ViewState["peek"]>): HoldCommand => ({
  group: "Picture",
  says,
  keys,
  held: (e, down) => {
    if (down) e.view.setPeek(what);
    else if (e.store.getState().peek === what) e.view.setPeek(null);
  },
});
const against = (what: "wipe" | "difference" | "beside") => (e: Editor) =>
  e.view.lookAgainst({ against: e.store.getState().looks.against === what ? "off" : what });

/** What is looked at, and how. */
export const PICTURE = {
  peekOriginal: peek("Original, while held", "backquote", "original"),
  peekMatte: peek("Matte alone, while held", "m", "matte"),
  peekPatch: peek("Selected patch alone, while held", "n", "patch"),
  peekHole: peek("Footage with its hole, while held", "j", "hole"),
  wipe: press("Wipe between original and mended", "8", against("wipe")),
  difference: press("Difference from the original, amplified", "9", against("difference")),
  beside: press("Original beside the mended picture", "0", against("beside")),
  look: press("The production's look, on or off", "shift+l", (e) => e.glass.toggle()),
  contrast: press("Strong contrast, or as usual", "shift+8", (e) => e.glass.setHarder("contrast")),
  colour: press("Strong colour, or as usual", "shift+9", (e) => e.glass.setHarder("colour")),
  detail: press("Fine detail alone, or as usual", "shift+0", (e) => e.glass.setHarder("detail")),
  inTime: press("Difference from the frame before, or as usual", "shift+7", (e) => e.glass.setHarder("time")),
  handles: press("Handles off or on", "h", (e) => e.view.setHandles(!e.store.getState().handles)),
  ghosts: press("Shapes of the keyframes beside, off or on", "y", (e) => e.view.setGhosts(!e.store.getState().ghosts)),
  alone: press("The picture alone on the whole screen", "z", (e) => e.view.setAlone(!e.store.getState().alone)),
  panes: press("Panes folded, or as usual", "shift+z", (_, page) => page.togglePanes()),
  fit: press("Whole picture", "f", (e) => e.view.setZoom({ ...e.store.getState().zoom, scale: null })),
  full: press("One to one (100 %)", "shift+f", (e) => e.view.setZoom({ ...e.store.getState().zoom, scale: 1 })),
  closer: press("Closer", "shift+equal", (_, page) => page.zoomBy(1.25)),
  farther: press("Farther", "minus", (_, page) => page.zoomBy(0.8)),
  panLeft: press("Look further left", "a", (_, page) => page.panBy(PAN, 0)),
  panRight: press("Look further right", "d", (_, page) => page.panBy(-PAN, 0)),
  panUp: press("Look further up", "w", (_, page) => page.panBy(0, PAN)),
  panDown: press("Look further down", "s", (_, page) => page.panBy(0, -PAN)),
  grab: { group: "Picture", says: "Drag the picture, while held (or middle button)", keys: "g", held: (e, down) => e.view.hold("grab", down) },
} satisfies Record<string, PressCommand | HoldCommand>;
