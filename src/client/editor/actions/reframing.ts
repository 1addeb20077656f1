import { emptyEdge, type Framing } from "../../../core/compose/reframe";
import { maskOf, seenFrames, type Intruder, type Recipe } from "../../../core/document/recipe";
import { isPatch, isReframe, type ReframeLayer } from "../../../core/document/layer";
import type { Mask } from "../../../core/document/mask";
import { leastReframing, Unwanted } from "../../../core/reframe/least";
import { maskMatte } from "../../../core/shape/mask";
import { asDraft, type Draft } from "../../../recipe/edits";
import { intruderById, layerById, layersOf } from "../../../recipe/query";
import type { TakeInfo } from "../../../wire/take";
import { loadCutout } from "../../picture/measured";
import { atFrame } from "../counting";
import { newId } from "../names";
import { takeOf } from "../state/select";
import type { EditorCore } from "./core";

/** Whether a shot is reframed all through, or only while something is seen. */
export type ReframeWay = "shot" | "seen";

/** Frames over which a reframing comes and goes. */
const EASED = 12;
/** Slow at both ends (cubic-bezier, W3C CSS Easing Functions). */
const EASE = [0.42, 0, 0.58, 1] as const;
/** Pixels at a width of 1280 that are kept free around a thing: its blur, and what a resampled pixel takes from its neighbours. */
const ROOM = 6;

/** Everywhere a thing is seen: what was cut out of it, else its outline, else where its patches cover. */
async function whereItIs(recipe: Recipe, i: Intruder, { width, height }: Pick<TakeInfo, "width" | "height">): Promise<Unwanted> {
  const out = new Unwanted(width, height);
  const room = Math.ceil((ROOM * width) / 1280);
  const masks = i.layers.filter(isPatch).map((l) => ({ l, mask: maskOf(recipe, l) }));
  const cut = masks.flatMap(({ mask }) => mask.shapes.flatMap((s) => (s.kind === "cutout" && s.op === "add" && s.on !== false ? [s.data] : [])));
  if (cut.length) {
    for (const hash of cut) for (const { rect, alpha } of (await loadCutout(hash)).values()) out.add(rect, alpha(), room);
    return out;
  }
  const add = (mask: Mask, n: number) => {
    const m = maskMatte(mask, n, width, height);
    out.add(m, m.data, room);
  };
  if (i.seen) add({ shapes: [{ kind: "path", op: "add", points: i.seen.outline }] }, i.seen.at);
  else for (const { l, mask } of masks) for (const n of [l.in, Math.round((l.in + l.out) / 2), l.out]) add(mask, n);
  return out;
}

/** Keeping a thing out of the picture by framing the shot anew, in place of mending it. */
export function createReframing({ get, set, commit, preview, notices, refresh }: EditorCore) {
  /** The framing that costs least; null where it is not known how large the take is, or where nothing helps. */
  async function least(id: string): Promise<Framing | null> {
    const { recipe } = get();
    const i = intruderById(recipe, id);
    const { info } = takeOf(get());
    return i && info ? leastReframing(await whereItIs(recipe, i, info)) : null;
  }

  /** Whether another reframing that is on has frames from `a` to `b`. */
  const taken = (but: string | null, a: number, b: number): boolean =>
    layersOf(get().recipe).some((l) => isReframe(l) && l.id !== but && l.on !== false && l.in <= b && l.out >= a);

  return {
    least,
    async keepOut(id: string, way: ReframeWay): Promise<void> {
      const f = await least(id);
      const { recipe } = get();
      const i = intruderById(recipe, id);
      if (!i) return;
      if (!f)
        return notices.said(`${i.name} stands too far inside: even at twice the size it would be in the picture. Mend it with a patch instead.`);
      const { in: from, out: to } = recipe.shot;
      const band = way === "seen" ? (seenFrames(i) ?? recipe.shot) : recipe.shot;
      const [a, b] = [Math.max(from, band.in - EASED), Math.min(to, band.out + EASED)];
      if (taken(null, a, b))
        return notices.said(`These frames are reframed already, and one a frame is allowed: change that reframing, or take it back first.`);
      const keyed = (v: number, rest: number) =>
        a === band.in && b === band.out
          ? Number(v.toFixed(4))
          : {
              keys: [
                ...(a < band.in ? [{ f: a, v: rest, ease: [...EASE] as const }] : []),
                { f: band.in, v: Number(v.toFixed(4)) },
                ...(band.out > band.in || b > band.out
                  ? [{ f: Math.max(band.out, band.in + 1), v: Number(v.toFixed(4)), ease: [...EASE] as const }]
                  : []),
                ...(b > band.out ? [{ f: Math.max(b, band.in + 2), v: rest }] : []),
              ],
            };
      // a hair more, so that rounding leaves no edge empty
      const scale = f.scale + 1e-4;
      const layer: ReframeLayer = {
        id: newId("f"),
        kind: "reframe",
        in: a,
        out: b,
        place: { x: keyed(f.x, 0), y: keyed(f.y, 0), scale: keyed(scale, 1) },
      };
      commit(`Keep ${i.name} out by reframing`, (d) => void intruderById(d, id)?.layers.push(asDraft(layer)));
      set({ selection: { kind: "layer", layer: layer.id }, framed: true });
      refresh();
    },
    /** Changes a reframing; one that would leave an edge empty is refused, with the frame on which it would. */
    change(layer: string, name: string, change: (l: Draft<ReframeLayer>) => void, dragging = false): void {
      const { info } = takeOf(get());
      const now = layerById(get().recipe, layer);
      if (!info || !now || !isReframe(now)) return;
      const next = structuredClone(now) as Draft<ReframeLayer>;
      change(next);
      const empty = emptyEdge(next, info.width, info.height);
      // while it is dragged it stops at the edge
      if (empty !== null && dragging) return;
      if (empty !== null) return notices.said(`So frame ${atFrame(empty)} would have an empty edge: enlarge it first, or move it less.`);
      if (next.on !== false && taken(layer, next.in, next.out))
        return notices.said(`Another reframing has some of these frames, and one a frame is allowed: end that one earlier, or switch it off.`);
      const run = (d: Draft<Recipe>) => {
        const l = layerById(d, layer);
        if (l?.kind === "reframe") change(l);
      };
      if (dragging) preview(run, false);
      else commit(name, run);
    },
  };
}
