import { describe, expect, it } from "vitest";
import { checklistFor, type Facts, warningsFor, type WayName, waysFor } from "./advice";

const stands = { verdict: "locked", maxShift: 0.02 } as NonNullable<Facts["survey"]>["stillness"];
const steady = { drift: 0, flicker: 0, perFrame: [] } as unknown as NonNullable<Facts["survey"]>["light"];
const facts = (more: Partial<Facts> = {}): Facts => ({
  shot: { in: 0, out: 95 },
  never: false,
  first: 29,
  last: 73,
  clean: [{ frame: 28, off: 1.1 }],
  others: [],
  beyond: [],
  otherTakes: 0,
  survey: { stillness: stands, light: steady },
  ...more,
});
const can = (f: Facts) => Object.fromEntries(waysFor(f).map((w) => [w.way, w.can])) as Record<WayName, string>;
const says = (f: Facts, way: WayName) => waysFor(f).find((w) => w.way === way)!.says;

describe("ways to take a thing out", () => {
  it("a boom that comes and goes before a camera that stands: by a held frame, named with its figure", () => {
    expect(can(facts())).toEqual({ follow: "no", hold: "yes", built: "yes", slip: "part", "cut-out": "yes", paint: "part", take: "no" });
    expect(says(facts(), "hold")).toBe("Frame 28 is clean there (1.1 times the noise).");
    expect(says(facts(), "slip")).toContain("29 frames are free of it (0–28), it is seen in 45");
  });
  it("a ladder that never leaves: by another take, if there is one", () => {
    const f = facts({ never: true, first: 0, last: 95, clean: [], otherTakes: 1 });
    expect(can(f)).toEqual({ follow: "no", hold: "no", built: "no", slip: "no", "cut-out": "no", paint: "part", take: "part" });
    expect(checklistFor(f)[0]).toMatch(/carry it out/);
  });
  it("trucks of which each frame shows one: no frame, but a plate of many", () => {
    const f = facts({ clean: [{ frame: 3, off: 6.2 }] });
    expect([can(f).hold, can(f).built]).toEqual(["no", "yes"]);
    expect(says(f, "hold")).toContain("frame is clean all over its path; the best, 3, is off by 6.2 times");
  });
  it("a camera that moves leaves painting and other takes; one that drifts asks to be followed, light that moves to be matched", () => {
    const moves = facts({ survey: { stillness: { ...stands, verdict: "moves", maxShift: 31 }, light: steady } });
    expect(can(moves)).toMatchObject({ hold: "no", built: "no", "cut-out": "no" });
    expect(says(moves, "hold")).toContain("31.0 px");
    const drifts = facts({ survey: { stillness: { ...stands, verdict: "drifts", maxShift: 2 }, light: { ...steady, drift: 0.05 } } });
    expect(says(drifts, "hold")).toMatch(/follow the camera\. Match its light\.$/);
  });
  it("what sits on something that moves is followed, and no frame of the take lies right by itself", () => {
    const f = facts({ never: true, clean: [], rides: { by: 13.24, in: 4, out: 32 } });
    expect(can(f)).toMatchObject({ follow: "yes", hold: "no", built: "no" });
    // what can work here stands first, what cannot last
    expect([waysFor(f)[0].way, waysFor(facts()).at(-1)!.way]).toEqual(["follow", "follow"]);
    expect(says(f, "follow")).toContain("by 13.2 px within frames 4–32: follow it");
    expect(says(f, "hold")).toContain("what it sits on moves by 13.2 px");
    const moves = facts({ survey: { stillness: { ...stands, verdict: "moves", maxShift: 31 }, light: steady } });
    expect([can(moves).follow, says(moves, "follow")]).toEqual(["part", expect.stringContaining("in one plane")]);
  });
  it("what is seen on a few frames is painted; a long free stretch is slipped over it; frames are counted as the page does", () => {
    expect(can(facts({ first: 40, last: 44 }))).toMatchObject({ paint: "yes", slip: "yes" });
    expect(waysFor(facts({ first: 40, last: 40 })).find((w) => w.way === "paint")!.says).toBe("It is seen in 1 frame only: paint it.");
    expect(waysFor(facts(), (n) => `#${n + 1}`)[0].says).toContain("Frame #29");
  });
  it("somebody who passes and a thing that wanders are named with their frames, and stand on the list for the next shoot", () => {
    const f = facts({ others: [[61, 88]], beyond: [[50, 50], [52, 60]] }); // prettier-ignore
    expect(warningsFor(f).join(" ")).toMatch(/at 61–88.*at 50, 52–60/);
    expect(checklistFor(f).length).toBe(checklistFor(facts()).length + 2);
    expect(waysFor(f).find((w) => w.way === "cut-out")!.says).toContain("beyond the loop (50)");
  });
});
