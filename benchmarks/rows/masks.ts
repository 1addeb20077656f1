import { composeFrame } from "../../src/core/compose/compose";
import type { MatteCache } from "../../src/core/compose/patch";
import type { Recipe } from "../../src/core/document/recipe";
import { createFrame, type Rect } from "../../src/core/pixels/frame";
import { boundaryOf } from "../../src/core/shape/boundary";
import { signedDistance } from "../../src/core/shape/distance";
import { ellipsePolygon } from "../../src/core/shape/path";
import { median, repeated, type Row } from "../measure";
import { recipe } from "../take";

const row = (what: string, times: number[], most: number): Row => {
  const ms = 1000 * median(times);
  return { what, ours: `${ms.toFixed(1)} ms`, reach: `< ${most} ms`, judge: "–", ok: ms < most };
};

export async function distance(): Promise<Row[]> {
  const times = (rx: number, ry: number, rect: Rect, reach: number) => {
    const edges = boundaryOf(ellipsePolygon(960, 540, rx, ry, 0));
    return repeated(7, () => signedDistance(edges, rect, reach));
  };
  return [
    row("Signed distance, whole 1080p", await times(700, 400, { x0: 0, y0: 0, x1: 1920, y1: 1080 }, 2000), 200),
    row("Signed distance, within a shape's box", await times(150, 100, { x0: 790, y0: 420, x1: 1130, y1: 660 }, 20), 30),
  ];
}

/** A mask that is dragged: every step is another mask. */
export async function maskEdit(): Promise<Row[]> {
  const f = createFrame(1280, 720, { model: "yuv", bits: 8, subX: 1, subY: 1, alpha: false });
  const edit = (i: number): Recipe => {
    const next = structuredClone(recipe);
    Object.assign(next.intruders[0].layers[0], {
      mask: { shapes: [{ kind: "ellipse", op: "add", center: [700 + i, 200], radii: [110, 80] }], feather: 16 },
    });
    return next;
  };
  const cache: MatteCache = new WeakMap();
  const canvas = { width: 1280, height: 720, scale: 1, siting: "left" } as const;
  const times = await repeated(40, (i) =>
    composeFrame({ recipe: edit(i), n: 5, below: f, pictures: { take: () => f, plate: () => f }, canvas, cache }),
  );
  return [row("Mask edit to new preview, work", times, 16)];
}
