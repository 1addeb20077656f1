import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { bareEditor } from "../../../../testkit/bare-editor";
import { recipeWith } from "../../../../testkit/pictures";
import type { PatchLayer } from "../../../core/document/layer";
import type { Finding } from "../../../core/proof/finding";
import { findingWords, proofNow, verdictOn } from "./proving";

const patch: PatchLayer = {
  id: "l",
  kind: "patch",
  in: 2,
  out: 6,
  source: { plate: "p" },
  mask: { shapes: [{ kind: "box", op: "add", center: [30, 30], size: [20, 20], angle: 0 }], grow: 2 },
};
const found = (change: Partial<Finding>): Finding => ({
  kind: "leak",
  intruder: "i",
  layer: "l",
  in: 7,
  out: 8,
  worst: 7,
  box: { x0: 20, y0: 20, x1: 40, y1: 40 },
  value: 12,
  limit: 6,
  says: "",
  do: "",
  remedy: "later",
  ...change,
});

/** An editor in Proof that has been told of some findings. */
function told(...findings: Finding[]) {
  const b = bareEditor(recipeWith([patch]));
  b.editor.mode.setStage("Proof");
  b.editor.store.setState({
    proof: {
      told: { of: b.get().recipe, proof: { verdict: "faults", findings, doubts: [], figures: {}, looked: "" } },
      running: null,
      at: null,
      figure: "left",
    },
  });
  const layer = () => b.get().recipe.intruders[0].layers[0] as PatchLayer;
  return { ...b, layer, now: () => proofNow(b.get()) };
}

beforeEach(() => {
  vi.stubGlobal("fetch", () => new Promise(() => undefined));
  vi.stubGlobal("requestAnimationFrame", () => 0);
});
afterEach(() => vi.unstubAllGlobals());

describe("findings", () => {
  it("are gone through one after another and round: the worst frame is shown, its patch selected", () => {
    const { editor, get } = told(found({}), found({ kind: "seam", worst: 4, remedy: "light" }));
    const at = () => [get().frame, get().proof.at];
    editor.proving.jump(1);
    expect(at()).toEqual([7, 0]);
    expect(get().selection).toEqual({ kind: "layer", layer: "l" });
    editor.proving.jump(1);
    expect(at()).toEqual([4, 1]);
    editor.proving.jump(1);
    expect(at()).toEqual([7, 0]);
    editor.proving.jump(-1);
    expect(at()).toEqual([4, 1]);
    editor.close();
  });

  it("bring the view that shows their kind best, and take it along again; one that somebody has chosen stays", () => {
    const { editor, get } = told(found({}), found({ kind: "dead-grain", worst: 4 }), found({ kind: "drift", worst: 5 }));
    const seen: (string | null)[] = [];
    for (let k = 0; k < 3; k++) {
      editor.proving.jump(1);
      seen.push(get().harder);
    }
    expect(seen).toEqual(["contrast", "time", null]);
    editor.proving.jump(1);
    editor.mode.setStage("Patch");
    expect(get().harder).toBeNull();
    editor.mode.setStage("Proof");
    editor.glass.setHarder("detail");
    editor.proving.jump(1);
    expect(get().harder).toBe("detail");
    editor.mode.setStage("Patch");
    expect(get().harder).toBe("detail");
    editor.close();
  });

  it("are mended as they say; what was told is then no longer what is so", () => {
    for (const [remedy, change] of [
      ["later", { out: 8 }],
      ["earlier", { in: 0 }],
      ["light", { light: { by: "rim" } }],
      ["wider", { mask: { ...patch.mask, grow: 5 } }],
      ["seam", { seam: { strength: 1 } }],
      ["align", { place: { x: 1.5, y: -0.25 } }],
      ["soften", { mask: { ...patch.mask, feather: 3 } }],
    ] as const) {
      const f = found({ remedy, ...(remedy === "earlier" ? { in: 0, out: 1 } : {}), ...(remedy === "align" ? { shift: { x: 1.5, y: -0.25 } } : {}) });
      const { editor, layer, now } = told(f);
      expect(now()!.verdict).toBe("faults");
      editor.proving.mend(f);
      expect(layer()).toMatchObject(change);
      expect(now()).toBeNull();
      editor.close();
    }
  });

  it("of somebody who passes: they are cut out from the loop that came with it, and held out by a shape that can be switched off", async () => {
    const f = found({ kind: "bite", remedy: "hold-out", in: 3, out: 4, outline: { f: 4, points: [[1, 1], [9, 1], [9, 9]] } }); // prettier-ignore
    const { editor, layer } = told(f);
    expect(editor.proving.mendingOf(f)).toBe("Hold it out");
    const asked: unknown[] = [];
    vi.stubGlobal("fetch", (path: string, { body }: { body?: string } = {}) => {
      if (!path.endsWith("/cutout")) return new Promise(() => undefined);
      asked.push(JSON.parse(body!));
      return Promise.resolve(Response.json({ data: "a".repeat(64), in: 3, out: 5, seen: 3 }));
    });
    const before = (layer().mask as { shapes: unknown[] }).shapes;
    editor.proving.mend(f);
    await vi.waitFor(() => expect((layer().mask as { shapes: unknown[] }).shapes).toHaveLength(2));
    // within the frames in which the patch is laid
    expect(asked).toMatchObject([{ take: "a", at: 4, from: 2, to: 6, outline: f.outline!.points }]);
    expect((layer().mask as { shapes: unknown[] }).shapes).toMatchObject([before[0], { kind: "cutout", op: "cut", data: "a".repeat(64) }]);
    editor.close();
  });

  it("offer no button where the program has nothing more to do", () => {
    const { editor } = told(found({}));
    expect(editor.proving.mendingOf(found({ remedy: "hold-out" }))).toBeNull();
    expect(editor.proving.mendingOf(found({ remedy: "light" }))).toBe("Follow the light");
    editor.proving.mend(found({ remedy: "light" }));
    expect(editor.proving.mendingOf(found({ remedy: "light" }))).toBeNull();
    editor.close();
  });

  it("are accepted with a reason, which measures nothing anew, and count again", () => {
    const f = found({});
    const { editor, get, now } = told(f);
    editor.proving.accept(f, "Cut away");
    expect(now()).toMatchObject({ verdict: "clean", findings: [], accepted: [{ why: "Cut away" }] });
    expect(get().recipe.proof!.accepted).toHaveLength(1);
    editor.proving.accept(f, "Under a title");
    expect(get().recipe.proof!.accepted.map((a) => a.why)).toEqual(["Under a title"]);
    editor.proving.unaccept(f);
    expect(now()!.findings).toHaveLength(1);
    editor.close();
  });

  it("are said of their intruder in the fewest words; only one without any is clean", () => {
    const list = [found({}), found({ in: 0, out: 1, worst: 0 }), found({ kind: "dead-grain" })];
    expect(findingWords(list)).toBe("2 × leak, dead grain");
    const { now } = told(...list);
    expect(verdictOn(now(), "i")!.verdict).toBe("faults");
    expect(verdictOn(now(), "another")!.verdict).toBe("clean");
    expect(verdictOn(null, "i")).toBeNull();
  });
});
