import type { Shape } from "../document/mask";
import { PX, UNIT } from "../ranges";
import { valueAt } from "../time/keyed";
import { boxPolygon, ellipsePolygon, flattenOutline, type Polygon } from "./path";

/** The polygon of an outline, ellipse or box at frame `n`, in pixels × `scale`. @throws for painted shapes, pictures and cut-outs, which have none. */
export function shapePolygon(shape: Shape, n: number, scale = 1): Polygon {
  const s = scale;
  switch (shape.kind) {
    case "path":
      return flattenOutline(valueAt(shape.points, n), s);
    case "ellipse": {
      const [cx, cy] = valueAt(shape.center, n);
      const [rx, ry] = valueAt(shape.radii, n, PX);
      return ellipsePolygon(cx * s, cy * s, rx * s, ry * s, valueAt(shape.angle ?? 0, n));
    }
    case "box": {
      const [cx, cy] = valueAt(shape.center, n);
      const [w, h] = valueAt(shape.size, n, PX);
      return boxPolygon(cx * s, cy * s, w * s, h * s, valueAt(shape.angle ?? 0, n), valueAt(shape.round ?? 0, n, UNIT));
    }
    default:
      throw new Error(`A ${shape.kind} shape has no outline.`);
  }
}
