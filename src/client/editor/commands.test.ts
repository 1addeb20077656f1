import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { bareEditor } from "../../../testkit/bare-editor";
import { recipeWith } from "../../../testkit/pictures";
import type { PaintLayer, PatchLayer } from "../../core/document/layer";
import type { Recipe } from "../../core/document/recipe";
import { COMMAND_IDS, type CommandId, commandOf } from "./commands";
import type { Page } from "./commands/command";
import type { Editor } from "./editor";
import { NOTHING_PICKED } from "./shapes";

const path = [[20, 20], [80, 20], [80, 70], [20, 70]]; // prettier-ignore
const patch: PatchLayer = {
  id: "l",
  kind: "patch",
  in: 2,
  out: 8,
  source: { plate: "p" },
  opacity: { keys: [{ f: 3, v: 1 }, { f: 7, v: 0 }] }, // prettier-ignore
  mask: { shapes: [{ kind: "path", op: "add", points: path }] },
};
const paint: PaintLayer = {
  id: "q",
  kind: "paint",
  in: 0,
  out: 9,
  touches: [{ id: "t", kind: "clone", frames: [4, 4], offset: [4, 0], path: [[10, 10]], brush: { size: 9, hardness: 1, opacity: 1, flow: 1, spacing: 0.1 } }], // prettier-ignore
};
const recipe: Recipe = recipeWith([patch, paint]);

/** What has to be so that a command has something to do; for most a selected patch at frame 5 is enough. */
const BEFORE: Partial<Record<CommandId, (e: Editor) => void>> = {
  unmark: (e) => e.transport.mark("in", 3),
  fit: (e) => e.view.setZoom({ scale: 2, x: 0, y: 0 }),
  close: (e) => e.masks.setDrawing(path),
  round: (e) => e.masks.pick({ shapes: [], points: [{ shape: 0, index: 1 }] }),
  tool1: (e) => e.masks.setTool("box"),
  ...Object.fromEntries(["Left", "Right", "Up", "Down"].map((way) => [`nudge${way}`, (e: Editor) => e.masks.pick({ shapes: [0], points: [] })])),
  source: (e) => (e.mode.openPaint("q"), e.view.pointAt([30, 40])),
  veil: (e) => e.mode.openPaint("q"),
  mend(e) {
    e.mode.setStage("Proof");
    const of = e.store.getState().recipe;
    const found = { kind: "leak", intruder: "i", layer: "l", in: 8, out: 9, worst: 9, box: { x0: 0, y0: 0, x1: 8, y1: 8 }, value: 9, limit: 6, says: "", do: "", remedy: "wider" } as const; // prettier-ignore
    e.store.setState({
      proof: {
        told: { of, proof: { verdict: "faults", findings: [found], doubts: [], figures: {}, looked: "" } },
        running: null,
        at: 0,
        figure: "left",
      },
    });
  },
  carry: (e) => e.mode.openPaint("q"),
  carryHere: (e) => (e.mode.openPaint("q"), e.view.pointAt([50, 40])),
};

function prepared(id: CommandId) {
  const asked: string[] = [];
  const b = bareEditor(recipe);
  const note =
    (what: string) =>
    (...args: unknown[]) =>
      void asked.push(`${what} ${args.join(" ")}`);
  const page: Page = {
    typeFrame: note("typeFrame"),
    focusPicture: note("focusPicture"),
    togglePanes: note("togglePanes"),
    copy: note("copy"),
    paste: note("paste"),
    zoomBy: note("zoomBy"),
    panBy: note("panBy"),
    turned: (x, y) => [x, y],
    pressFocused: () => false,
    unfocus: () => undefined,
  };
  b.editor.transport.goTo(5);
  b.editor.mode.setStage("Patch");
  b.editor.selection.select({ kind: "layer", layer: "l" });
  BEFORE[id]?.(b.editor);
  // what is told beside the state: the history is the engine's, and asked there
  const told = vi.spyOn(b.editor.queue, "step").mockImplementation((which) => Promise.resolve(note("step")(which)));
  const seen = () => JSON.stringify([b.get(), asked, b.said]);
  return { ...b, page, told, seen };
}

beforeEach(() => {
  // an engine that never answers: edits wait
  vi.stubGlobal("fetch", () => new Promise(() => undefined));
  vi.stubGlobal("requestAnimationFrame", () => 0);
});
afterEach(() => vi.unstubAllGlobals());

describe("every command of the keys page", () => {
  it.each(COMMAND_IDS)("%s runs something", (id) => {
    const { editor, page, seen } = prepared(id);
    const command = commandOf(id);
    const before = seen();
    if ("run" in command) {
      expect(command.when?.(editor.store.getState()), "it is at hand").not.toBe(false);
      command.run(editor, page);
    } else command.held(editor, true);
    expect(seen()).not.toBe(before);
    if ("held" in command) {
      command.held(editor, false);
      expect(seen()).toBe(before);
    }
    editor.close();
  });
});

describe("leaving off", () => {
  const leave = (e: Editor, page: Page) => (commandOf("leave") as { run: (e: Editor, p: Page) => void }).run(e, page);
  it("takes one thing at a time: the drag, the drawing, what is picked, the selection; and closes what is open", () => {
    const { editor, page, get } = prepared("leave");
    editor.masks.setDrawing(path.slice(0, 2));
    let broken = false;
    editor.history.gestureBegins(() => (broken = true));
    leave(editor, page);
    expect([broken, get().drawing.length]).toEqual([true, 2]);
    leave(editor, page);
    expect(get().drawing).toEqual([]);
    editor.masks.pick({ shapes: [], points: [{ shape: 0, index: 1 }] });
    leave(editor, page);
    expect([get().picked, get().selection?.kind]).toEqual([NOTHING_PICKED, "layer"]);
    leave(editor, page);
    expect(get().selection).toBe(null);
    editor.mode.openPaint("q");
    editor.retouch.set({ touch: "t" });
    leave(editor, page);
    expect(get().mode).toEqual({ stage: "Patch", paint: "q" });
    leave(editor, page);
    expect(get().mode).toEqual({ stage: "Patch", paint: null });
    editor.close();
  });
});
