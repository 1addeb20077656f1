"use client";
import { useEffect, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { keyframesOf } from "@/client/bench/keyframes";
import { BRUSH_TOOLS, type MaskTool, retouching, selectedLayer, touchesOpen } from "@/client/bench/state";
import { type KeyId, keyOf } from "@/client/input/keys";
import { isPatch } from "@/core/document";
import { isKeyed, withKey, withoutKey } from "@/core/time/keyed";
import { useBench } from "./context";
import { panBy, zoomBy } from "../viewer/zoom";

export const MASK_TOOLS: MaskTool[] = ["outline", "oval", "box", "adjust"];

/** How far a key moves the picture, in screen pixels. */
const PAN = 80;

/** Whether a key belongs to a field that is being typed in. */
export function isTyping(e: KeyboardEvent): boolean {
  const t = e.target as HTMLElement | null;
  if (!t || !/^(INPUT|TEXTAREA|SELECT)$/.test(t.tagName)) return false;
  return !(t instanceof HTMLInputElement && /^(checkbox|radio|range)$/.test(t.type));
}

/** All keys of the bench. */
export function useKeys(): void {
  const bench = useBench();
  const on = (id: KeyId, run: (e: KeyboardEvent) => void) => {
    // eslint-disable-next-line react-hooks/rules-of-hooks -- a fixed list in a fixed order
    useHotkeys(keyOf(id).keys, run, {
      ignoreEventWhen: (e) => isTyping(e) || !!bench.store.getState().dialog,
      preventDefault: true,
      useKey: false,
      enableOnFormTags: true,
    });
  };
  const st = () => bench.store.getState();
  const { goTo } = bench;
  on("play", (e) => {
    if ((e.target as HTMLElement)?.tagName === "BUTTON") (e.target as HTMLElement).blur();
    bench.play();
  });
  on("back", () => goTo(st().frame - 1));
  on("on", () => goTo(st().frame + 1));
  on("back10", () => goTo(st().frame - 10));
  on("on10", () => goTo(st().frame + 10));
  on("first", () => goTo(st().recipe.shot.in));
  on("last", () => goTo(st().recipe.shot.out));
  const marks = () => {
    const paint = st().paint;
    if (paint) return [...new Set(touchesOpen(st()).flatMap((t) => t.frames ?? []))].sort((a, b) => a - b);
    const l = selectedLayer(st());
    const layers = l
      ? [l]
      : st()
          .recipe.intruders.flatMap((i) => i.layers)
          .filter(isPatch);
    return [...new Set(layers.flatMap((x) => [x.in, x.out, ...keyframesOf(x)]))].sort((a, b) => a - b);
  };
  on("prevKey", () => {
    const f = marks().findLast((x) => x < st().frame);
    if (f !== undefined) goTo(f);
  });
  on("nextKey", () => {
    const f = marks().find((x) => x > st().frame);
    if (f !== undefined) goTo(f);
  });
  on("in", () => {
    const l = selectedLayer(st());
    if (l && st().frame <= l.out) bench.changeLayer(l.id, `Begin the patch at frame ${st().frame}`, (d) => void (d.in = st().frame));
  });
  on("out", () => {
    const l = selectedLayer(st());
    if (l && st().frame >= l.in) bench.changeLayer(l.id, `End the patch at frame ${st().frame}`, (d) => void (d.out = st().frame));
  });
  on("handles", () => bench.set({ handles: !st().handles }));
  on("fit", () => bench.set({ zoom: { ...st().zoom, scale: null } }));
  on("full", () => bench.set({ zoom: { ...st().zoom, scale: 1 } }));
  on("closer", () => zoomBy(bench, 1.25));
  on("farther", () => zoomBy(bench, 0.8));
  on("panLeft", () => panBy(bench, PAN, 0));
  on("panRight", () => panBy(bench, -PAN, 0));
  on("panUp", () => panBy(bench, 0, PAN));
  on("panDown", () => panBy(bench, 0, -PAN));
  on("plate", () => bench.makePlate());
  on("paint", () => bench.paintFrames());
  on("keyframe", () => {
    const l = selectedLayer(st());
    if (!l) return;
    const f = st().frame;
    const had = isKeyed(l.opacity ?? 1) && (l.opacity as { keys: { f: number }[] }).keys.some((k) => k.f === f);
    bench.changeLayer(l.id, `${had ? "Remove" : "Set"} an opacity keyframe at frame ${f}`, (d) => {
      d.opacity = (had ? withoutKey(l.opacity ?? 1, f) : withKey(l.opacity ?? 1, f)) as typeof d.opacity;
    });
  });
  on("undo", () => void bench.undo());
  on("redo", () => void bench.redo());
  on("delete", () => {
    const { touch } = st().retouch;
    if (st().drawing.length) bench.set({ drawing: st().drawing.slice(0, -1) });
    else if (retouching(st()) && touch) bench.deleteTouch(touch);
    else if (!retouching(st())) bench.removeSelected();
  });
  on("leave", () => {
    if (st().drawing.length) bench.set({ drawing: [] });
    else if (retouching(st())) {
      const r = st().retouch;
      if (r.aid || r.loop.length || r.touch) bench.retouch({ aid: null, loop: [], touch: null });
      else if (st().plate) bench.openPlate(null);
      else bench.openPaint(null);
    } else bench.select(null);
  });
  on("close", (e) => {
    if ((e.target as HTMLElement)?.tagName === "BUTTON") (e.target as HTMLElement).click();
    else if (st().drawing.length) bench.closeOutline();
  });
  const size = (k: number, more: number) => {
    const { brush } = st().retouch;
    bench.retouch({ brush: { ...brush, size: Math.min(2000, Math.max(1, Math.round(brush.size * k) + more)) } });
  };
  on("smaller", () => size(1 / 1.15, 0));
  on("larger", () => size(1.15, 1));
  on("sourceLeft", () => bench.nudgeSource(-1, 0));
  on("sourceRight", () => bench.nudgeSource(1, 0));
  on("sourceUp", () => bench.nudgeSource(0, -1));
  on("sourceDown", () => bench.nudgeSource(0, 1));
  on("veil", () => retouching(st()) && bench.veil(st().retouch.veil ? null : { what: "source", share: 0.5 }));
  on("tool", (e) => {
    const n = Number(e.key) - 1;
    if (retouching(st())) {
      if (BRUSH_TOOLS[n]) bench.retouch({ tool: BRUSH_TOOLS[n], aid: null, loop: [] });
    } else if (MASK_TOOLS[n]) bench.set({ tool: MASK_TOOLS[n], drawing: [], stage: "Patch" });
  });
  on("keys", () => bench.set({ dialog: "keys" }));

  // keys that count while they are held
  useEffect(() => {
    const peeks = { Backslash: "original", IntlBackslash: "original", KeyM: "matte", KeyN: "patch" } as const;
    const down = (e: KeyboardEvent) => {
      const p = peeks[e.code as keyof typeof peeks];
      if (p && !e.repeat && !isTyping(e) && !e.ctrlKey && !e.metaKey && !e.altKey) bench.setPeek(p);
    };
    const up = (e: KeyboardEvent) => {
      if (peeks[e.code as keyof typeof peeks]) bench.setPeek(null);
    };
    const off = () => bench.setPeek(null);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", off);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", off);
    };
  }, [bench]);
}

/** Whether a key that works while it is held is held. */
export function useHeld(id: KeyId): boolean {
  const [held, setHeld] = useState(false);
  useEffect(() => {
    const code = `Key${keyOf(id).keys.toUpperCase()}`;
    const key = (e: KeyboardEvent) => {
      if (e.code === code && !isTyping(e) && !e.ctrlKey && !e.metaKey && !e.altKey) setHeld(e.type === "keydown");
    };
    const off = () => setHeld(false);
    window.addEventListener("keydown", key);
    window.addEventListener("keyup", key);
    window.addEventListener("blur", off);
    return () => {
      window.removeEventListener("keydown", key);
      window.removeEventListener("keyup", key);
      window.removeEventListener("blur", off);
    };
  }, [id]);
  return held;
}
