import { describe, expect, it } from "vitest";
import { sharper } from "./matching";

describe("how sharp a patch is made", () => {
  it("blurs add by their squares: what was set and what is still off", () => {
    expect(sharper(0, 1.5)).toBe(-1.5);
    expect(sharper(0, -1)).toBe(1);
    expect(sharper(-1.2, 0.9)).toBe(-1.5);
    expect(sharper(-1.5, -0.9)).toBe(-1.2);
    expect(sharper(1, 1)).toBe(0);
  });
  it("stays within what can be set", () => {
    expect(sharper(0, -5)).toBe(2);
    expect(sharper(-8, 5)).toBe(-8);
  });
});
