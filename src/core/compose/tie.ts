import type { PatchLayer } from "../document/layer";
import type { Mask, Shape } from "../document/mask";
import { maskOf, type Recipe } from "../document/recipe";
import { type Homography, inCoordinates, inverse, mapped, near, type Place, times } from "../follow/homography";
import type { TrackData } from "../follow/track-data";
import { pathOf } from "../follow/track-path";
import { SCALE } from "../ranges";
import { carriedPicture } from "../shape/picture";
import { shapePolygon } from "../shape/polygon";
import { valueAt } from "../time/keyed";
import { UserError } from "../user-error";
import { patchSource } from "./source-ref";

/** What was measured of tracks, by its hash. */
export type Tracks = ReadonlyMap<string, TrackData>;

/** Where track `id` has taken its region at frame `f`. @throws UserError where what was measured is not there */
export function trackMap(recipe: Recipe, id: string, f: number, tracks?: Tracks): Homography {
  const track = recipe.tracks?.[id];
  const data = track && tracks?.get(track.data);
  if (!data)
    throw new UserError("missing", `The track “${track?.name ?? id}” that a patch follows is not there (any more): follow the region again.`);
  return pathOf(track, data).map(f);
}

/** Whether a layer's mask is another one in each frame because it follows a track. */
export const carriesMask = (l: PatchLayer): boolean => l.tied?.mask !== undefined;

/** Whether what was measured of a layer's tracks is there. */
export const hasTracks = (recipe: Recipe, l: PatchLayer, tracks: Tracks): boolean =>
  [l.tied?.mask, l.tied?.to, l.tied?.from].every((id) => id === undefined || tracks.has(recipe.tracks?.[id]?.data ?? ""));

const carriedMasks = new WeakMap<Mask, { key: string; mask: Mask }>();

/**
 * A layer's mask at frame `n`, its shapes where the track they follow has taken them: their outlines are mapped, widths of edges stay
 * pixels of the frame; pictures are resampled; what is `still` and cut-outs stay. Without a track, the mask as it is.
 * @throws UserError where a shape would turn its back, by its frame
 */
export function maskAt(recipe: Recipe, l: PatchLayer, n: number, tracks?: Tracks): Mask {
  const mask = maskOf(recipe, l);
  if (l.tied?.mask === undefined) return mask;
  const map = trackMap(recipe, l.tied.mask, n, tracks);
  const key = `${n}/${map.join()}`;
  const known = carriedMasks.get(mask);
  if (known?.key === key) return known.mask;
  const carried = { ...mask, shapes: mask.shapes.map((s) => carriedShape(s, n, map)) };
  carriedMasks.set(mask, { key, mask: carried });
  return carried;
}

function carriedShape(shape: Shape, n: number, map: Homography): Shape {
  if (shape.still || shape.on === false || shape.kind === "cutout") return shape;
  if (shape.kind === "picture") return carriedPicture(shape, map);
  const put = ([x, y]: readonly number[]): Place => {
    const p = mapped(map, [x, y]);
    if (!p)
      throw new UserError(
        "refused",
        `At frame ${n} a mask's shape would reach behind the horizon of the track it follows: let it follow fewer frames.`,
      );
    return p;
  };
  if (shape.kind === "painted") {
    const strokes = shape.strokes.map((s) => ({
      ...s,
      brush: { ...s.brush, size: s.brush.size * largerBy(map, s.path[0] as readonly number[]) },
      path: s.path.map((p) => [...put(p), ...p.slice(2)] as typeof p),
    }));
    return { ...shape, strokes };
  }
  const flat = shapePolygon(shape, n);
  const points = Array.from({ length: flat.length / 2 }, (_, i) => put([flat[2 * i], flat[2 * i + 1]]));
  const { op, name, on, locked, feather, grow } = shape;
  return { kind: "path", op, points, ...(name === undefined ? {} : { name }), ...(on === undefined ? {} : { on }), ...(locked === undefined ? {} : { locked }), ...(feather === undefined ? {} : { feather }), ...(grow === undefined ? {} : { grow }) }; // prettier-ignore
}

/** By how much a map enlarges what lies at a point: the root of its change of area. */
function largerBy(m: Homography, [x, y]: readonly number[]): number {
  const there = near(m, [x, y]);
  return there ? Math.sqrt(Math.abs(there.by[0] * there.by[3] - there.by[1] * there.by[2])) : 1;
}

/**
 * How a patch's picture lies at frame `n` where it follows a track: T_to(n) · Place(n) · T_from(m)⁻¹, from points of the source to those of
 * the take, m the source's own frame; null where it follows none.
 * @param middle of the source, take pixels: the pivot where none is set
 */
export function pictureMap(recipe: Recipe, l: PatchLayer, n: number, middle: Place, tracks?: Tracks): Homography | null {
  const { to, from } = l.tied ?? {};
  if (to === undefined && from === undefined) return null;
  let map = placeMap(l, n, middle);
  if (to !== undefined) map = times(trackMap(recipe, to, n, tracks), map);
  if (from !== undefined) {
    const back = inverse(trackMap(recipe, from, ownFrame(recipe, l, n), tracks));
    if (!back) throw new UserError("refused", `At frame ${n} the track that a patch's source follows folds over: let it follow fewer frames.`);
    map = times(map, back);
  }
  return map;
}

/** The frame that a source shows. @throws UserError for a picture that is of no frame */
function ownFrame(recipe: Recipe, l: PatchLayer, n: number): number {
  const ref = patchSource(recipe, l, n);
  if (!("plate" in ref)) return ref.frame;
  const { from } = recipe.plates[ref.plate];
  const m = from.take === undefined ? undefined : (from.frame ?? from.built?.at ?? from.built?.in);
  if (m === undefined)
    throw new UserError("refused", "The picture that a patch reads along a track is of no frame of a take: let the patch alone follow the track.");
  return m;
}

/** A layer's own place as a plane map of take pixels. */
function placeMap(l: PatchLayer, n: number, middle: Place): Homography {
  const p = l.place;
  const [cx, cy] = p?.pivot ? valueAt(p.pivot, n) : middle;
  const scale = valueAt(p?.scale ?? 1, n, SCALE);
  const angle = (valueAt(p?.angle ?? 0, n) * Math.PI) / 180;
  const [x, y] = [valueAt(p?.x ?? 0, n), valueAt(p?.y ?? 0, n)];
  return inCoordinates(
    [scale * Math.cos(angle), -scale * Math.sin(angle), x, scale * Math.sin(angle), scale * Math.cos(angle), y, 0, 0, 1],
    1,
    cx,
    cy,
  );
}
