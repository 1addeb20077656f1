import { afterEach, describe, expect, it, vi } from "vitest";
import { bareEditor } from "../../../../testkit/bare-editor";
import { recipeWith } from "../../../../testkit/pictures";
import type { PatchLayer } from "../../../core/document/layer";
import { fenced } from "../../../core/retouch/area";
import { over } from "../../../core/shape/matte";
import { packCutout } from "../../../recipe/cutout-file";
import { cutOutThings } from "./fencing";

const [W, H] = [320, 180];
const HASH = "a".repeat(64);
/** A block of 30 × 40 that goes to the right, on frames 2 to 6. */
const cut = packCutout(
  [2, 3, 4, 5, 6].map((f) => ({ f, rect: { x0: 100 + 10 * f, y0: 60, x1: 130 + 10 * f, y1: 100 }, alpha: new Uint8Array(1200).fill(255) })),
);
const held: PatchLayer = {
  id: "p",
  kind: "patch",
  in: 0,
  out: 9,
  source: { take: "a", hold: 0 },
  mask: {
    shapes: [
      { kind: "box", op: "add", center: [150, 90], size: [200, 100], angle: 0 },
      { kind: "cutout", op: "cut", data: HASH, name: "Walker" },
    ],
  },
};

function retouching() {
  vi.stubGlobal("requestAnimationFrame", () => 0);
  vi.stubGlobal("fetch", (url: string) =>
    String(url).includes(HASH) ? Promise.resolve(new Response(Buffer.from(cut))) : new Promise(() => undefined),
  );
  const b = bareEditor(recipeWith([held, { id: "l", kind: "paint", in: 0, out: 9, touches: [] }]));
  b.editor.store.setState({ mode: { stage: "Patch", paint: "l" } as ReturnType<typeof b.get>["mode"] });
  b.editor.transport.goTo(4);
  /** α of all of the picture within the fences. */
  const free = () => {
    const rect = { x0: 0, y0: 0, x1: W, y1: H };
    const data = over(fenced({ ...rect, data: new Float64Array(W * H).fill(1), outside: 0 }, b.get().retouch.fence), rect);
    return (x: number, y: number) => data[y * W + x];
  };
  return { ...b, free, thing: () => cutOutThings(b.get())[0] };
}
afterEach(() => vi.unstubAllGlobals());

describe("a fence from what was cut out", () => {
  it("keeps painting off it as it is on the frame that is retouched, and off what was fenced off before; undo takes it back", async () => {
    const { editor, get, free, thing } = retouching();
    expect(thing().name).toBe("Walker");
    // a loop of its own: the left half alone
    editor.history.addAid("fence", [[0, 0], [155, 0], [155, 180], [0, 180]]); // prettier-ignore
    await editor.fencing.fenceOff(thing());
    const at = free();
    // on frame 4 the block lies from 140 to 170
    expect([at(60, 90), at(130, 90), at(148, 50)]).toEqual([1, 1, 1]);
    expect([at(145, 80), at(165, 80), at(200, 20)].every((a) => a < 0.01)).toBe(true);
    await editor.history.undo();
    expect(get().retouch.fence).toHaveLength(1);
    expect(free()(145, 80)).toBe(1);
    editor.close();
  });

  it("is not made where it is not seen, and that is said", async () => {
    const { editor, get, said, thing } = retouching();
    editor.transport.goTo(9);
    await editor.fencing.fenceOff(thing());
    expect(get().retouch.fence).toEqual([]);
    expect(said.join()).toContain("not seen on frame 9");
    editor.close();
  });
});
