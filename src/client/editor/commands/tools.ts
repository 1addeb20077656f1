import type { Editor } from "../editor";
import { takesPoint } from "../retouch-target";
import { STILL } from "../shapes";
import { MASK_TOOLS } from "../state/mask";
import { openPaint, retouching } from "../state/mode";
import { BRUSH_TOOLS } from "../state/retouch";
import type { HoldCommand, Page, PressCommand } from "./command";

/** How much larger or smaller a key makes the brush. */
const GROWTH = 1.15;

const press = (says: string, keys: string, run: PressCommand["run"], when?: PressCommand["when"]): PressCommand => ({
  group: "Tools",
  says,
  keys,
  run,
  when,
});
const tool = (says: string, n: number): PressCommand =>
  press(says, String(n), (e) => (retouching(e.store.getState()) ? e.retouch.takeTool(BRUSH_TOOLS[n - 1]) : e.masks.takeTool(MASK_TOOLS[n - 1])));
const nudge = (says: string, keys: string, right: number, down: number): PressCommand =>
  press(says, keys, (e, page: Page) => {
    const [dx, dy] = page.turned(right, down);
    const s = e.store.getState();
    if (retouching(s)) e.retouch.nudgeSource(dx, dy);
    else if (s.tool === "source") e.source.nudgePlace(dx, dy);
    else e.masks.movePicked({ ...STILL, dx, dy }, "Nudge");
  });
function size(e: Editor, factor: number, more: number): void {
  const next = (v: number) => Math.min(2000, Math.max(1, Math.round(v * factor) + more));
  const { mode, retouch, maskBrush } = e.store.getState();
  if (retouching({ mode })) e.retouch.set({ brush: { ...retouch.brush, size: next(retouch.brush.size) } });
  else e.masks.setBrush({ size: next(maskBrush.size) });
}

/** The tools, and what helps them. */
export const TOOLS = {
  tool1: tool("First tool of the stage", 1),
  tool2: tool("Second tool", 2),
  tool3: tool("Third tool", 3),
  tool4: tool("Fourth tool", 4),
  tool5: tool("Fifth tool", 5),
  tool6: tool("Sixth tool", 6),
  tool7: tool("Seventh tool", 7),
  tool8: press(
    "Patch: follow a region that moves with the thing",
    "shift+t",
    (e) => e.masks.takeTool("follow"),
    (s) => !retouching(s),
  ),
  cross: press("Draw by keys: the arrows move a cross, Space presses, Enter closes", "shift+x", (_, page) => page.focusPicture()),
  pickAll: press(
    "Mask: pick all points",
    "mod+a",
    (e) => e.masks.pickAll(),
    (s) => !retouching(s),
  ),
  round: press("Mask: picked points to curves, or to corners", "u", (e) => e.masks.roundPoints()),
  nudgeLeft: nudge("Picked points, or the source, one pixel left", "shift+a", -1, 0),
  nudgeRight: nudge("One pixel right", "shift+d", 1, 0),
  nudgeUp: nudge("One pixel up", "shift+w", 0, -1),
  nudgeDown: nudge("One pixel down", "shift+s", 0, 1),
  source: press(
    "Brush: the source point is here",
    "x",
    (e) => e.retouch.setSourceHere(),
    (s) => retouching(s) && takesPoint(s.retouch.tool),
  ),
  ring: { group: "Tools", says: "Brush: pull its ring to size, while held", keys: "r", held: (e, down) => e.view.hold("ring", down) },
  straight: {
    group: "Tools",
    says: "Brush: a straight line from the last stroke's end, while held",
    keys: "shift",
    held: (e, down) => e.view.hold("straight", down),
  },
  veil: press(
    "Source laid half through over the picture",
    "v",
    (e) => e.retouch.veil(e.store.getState().retouch.veil ? null : { what: "source", share: 0.5 }),
    retouching,
  ),
  carry: press(
    "The last frame's touches on this one, too",
    "c",
    (e) => e.retouch.carry(null),
    (s) => openPaint(s) !== null,
  ),
  carryHere: press(
    "The same, moved to the pointer",
    "shift+c",
    (e) => e.retouch.carry(e.store.getState().pointer),
    (s) => openPaint(s) !== null,
  ),
  smaller: press("Brush smaller", "bracketleft", (e) => size(e, 1 / GROWTH, 0)),
  larger: press("Brush larger", "bracketright", (e) => size(e, GROWTH, 1)),
} satisfies Record<string, PressCommand | HoldCommand>;
