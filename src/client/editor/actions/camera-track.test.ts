import { afterEach, describe, expect, it, vi } from "vitest";
import { bareEditor } from "../../../../testkit/bare-editor";
import { recipeWith } from "../../../../testkit/pictures";
import type { PatchLayer } from "../../../core/document/layer";
import type { StillVerdict } from "../../../core/survey/stillness";

const patch: PatchLayer = {
  id: "l",
  kind: "patch",
  in: 2,
  out: 6,
  source: { take: "a", hold: 1 },
  mask: { shapes: [{ kind: "box", op: "add", center: [30, 30], size: [20, 20], angle: 0 }] },
};

/** A patch that is let follow a camera which drifts; `fitted` is how many frames what lies round it was found on. */
async function followed(fitted: number | null, change: Partial<PatchLayer> = {}) {
  const asked: { at: number; round?: { from: number; to: number } }[] = [];
  vi.stubGlobal("requestAnimationFrame", () => 0);
  vi.stubGlobal("fetch", (url: string, init?: RequestInit) => {
    if (!String(url).endsWith("/camera")) return new Promise(() => undefined);
    const body = JSON.parse(String(init?.body)) as (typeof asked)[number];
    asked.push(body);
    const data = (body.round ? "b" : "c").repeat(64);
    return Promise.resolve(Response.json({ data, in: 0, out: 9, model: "affine", stops: [], fitted: body.round ? fitted : null }));
  });
  const b = bareEditor(recipeWith([{ ...patch, ...change }]));
  const still = { verdict: "drifts" as StillVerdict, maxShift: 3, perFrame: [] };
  b.editor.store.setState({ survey: { survey: { stillness: still } } as unknown as ReturnType<typeof b.get>["survey"] });
  await b.editor.patches.followCamera("l");
  const { recipe } = b.get();
  const { tied } = recipe.intruders[0].layers[0] as PatchLayer;
  b.editor.close();
  return { asked, tied, track: recipe.tracks?.[tied!.to!], said: b.said };
}
afterEach(() => vi.unstubAllGlobals());

describe("a patch that follows the camera", () => {
  it("follows what lies round its mask on its own frames, from the frame its picture is of", async () => {
    const { asked, tied, track, said } = await followed(5);
    expect(asked).toMatchObject([{ at: 1, round: { from: 2, to: 6 } }]);
    expect(tied!.from).toBe(tied!.to);
    expect(track).toMatchObject({ at: 1, data: "b".repeat(64), in: 0, out: 9 });
    expect(track!.name).toMatch(/^Camera at ./);
    expect(said.join()).toContain("5 of 5 frames");
  });

  it("follows the whole picture where what lies round it does not tell, and that is said", async () => {
    const { asked, track, said } = await followed(null);
    expect(asked).toHaveLength(2);
    expect(track).toMatchObject({ name: "Camera", data: "c".repeat(64) });
    expect(said.join()).toContain("does not tell");
  });

  it("follows the whole picture where its mask follows something itself", async () => {
    const { asked, track } = await followed(5, { tied: { mask: "m" } });
    expect(asked.map((a) => a.round)).toEqual([undefined]);
    expect(track!.name).toBe("Camera");
  });
});
