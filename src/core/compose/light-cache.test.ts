import { describe, expect, it } from "vitest";
import type { Recipe } from "../document/recipe";
import { keptLights, type KnownLights, type LightCache, type Lights } from "./light-cache";

describe("lights of pictures that play", () => {
  const recipe = {} as Recipe;
  /** Which frames were asked as some frames were played. */
  function played(known: KnownLights | undefined, frames: number[]) {
    const asked: number[] = [];
    const lit = frames.map((n) => keptLights(known, "l", n, () => (asked.push(n), [n] as unknown as Lights)));
    return { asked, lit: lit.map(([v]) => v as unknown as number) };
  }
  const ten = Array.from({ length: 10 }, (_, i) => i);

  it("one frame in three is asked each time they play, until all were", () => {
    const cache: LightCache = new WeakMap();
    const known = { cache, recipe };
    expect(played(known, ten)).toEqual({ asked: [0, 3, 6, 9], lit: [0, 0, 0, 3, 3, 3, 6, 6, 6, 9] });
    expect(played(known, ten).asked).toEqual([1, 4, 7]);
    expect(played(known, ten).asked).toEqual([2, 5, 8]);
    expect(played(known, ten)).toEqual({ asked: [], lit: ten });
  });

  it("a frame far from those that are known is asked at once, and another recipe's are its own", () => {
    const cache: LightCache = new WeakMap();
    expect(played({ cache, recipe }, [0, 40, 20]).asked).toEqual([0, 40, 20]);
    expect(played({ cache, recipe: {} as Recipe }, [0]).asked).toEqual([0]);
  });

  it("where none are kept, each is asked each time", () => {
    expect(played(undefined, [3, 3, 4]).asked).toEqual([3, 3, 4]);
  });
});
