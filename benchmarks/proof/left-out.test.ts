import { describe, expect, it } from "vitest";
import { isRight, leftOut, limitsFor, type Told } from "./left-out";

const good = (take: string, times: Told["times"] = {}): Told => ({ take, kinds: [], times });
const leak = (take: string, times: number): Told => ({ take, kinds: ["leak"], times: times ? { leak: times } : {} });

describe("limits judged on takes left out", () => {
  it("stay where nothing good reaches them", () => {
    const all = ["a", "b", "c"].flatMap((t) => [good(t), leak(t, 1.05), leak(t, 4)]);
    expect(limitsFor(all).leak).toBe(1);
    const [row] = leftOut(all);
    expect(row).toEqual({ kind: "leak", limit: 1, from: 1, to: 1, good: null, faintest: 1.05, falseAlarms: 0, misses: 0 });
  });
  it("rise over what good patches reach, and what that costs is told", () => {
    const all = ["a", "b", "c"].flatMap((t) => [good(t, { leak: 1.2 }), leak(t, 1.1), leak(t, 4)]);
    const [row] = leftOut(all);
    expect(row).toMatchObject({ limit: 1.25, from: 1.25, to: 1.25, good: 1.2, faintest: 1.1, falseAlarms: 0, misses: 3 });
  });
  it("are not helped by the take they are judged on", () => {
    // only one take says that 1.2 is still good: left out, the others know nothing of it
    const all = [good("a", { seam: 1.2 }), good("b"), good("c"), leak("a", 3), leak("b", 3)];
    const seam = leftOut(all).find((r) => r.kind === "seam")!;
    expect(seam).toMatchObject({ limit: 1.25, from: 1, to: 1.25, falseAlarms: 1 });
  });
  it("count a fault as found by any kind that says it", () => {
    const limits = limitsFor([]);
    const unlit: Told = { take: "a", kinds: ["seam", "runaway-light"], times: { "runaway-light": 1.4 } };
    expect(isRight(unlit, limits)).toBe(true);
    expect(isRight({ ...unlit, times: { drift: 9 } }, limits)).toBe(false);
  });
});
