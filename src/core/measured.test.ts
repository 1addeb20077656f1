import { describe, expect, it } from "vitest";
import { type MeasuredHead, outdated } from "./measured";

describe("what was measured", () => {
  const was: MeasuredHead = { kind: "track", method: 2, of: "a" };
  it("holds while nothing it was measured from has changed, also beside a later program's newer method only with a word", () => {
    expect(outdated(was, { method: 2, of: "a" })).toBe(null);
    expect(outdated(was, { method: 1, of: "a" })).toBe(null); // by a later program: left alone
    expect(outdated(was, { method: 3, of: "a" })).toMatch(/^The track was measured by an earlier method: it stays/);
    expect(outdated(was, { method: 2, of: "b" })).toMatch(/^The track was measured before what it was measured from was changed/);
  });
});
