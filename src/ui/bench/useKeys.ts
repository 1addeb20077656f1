"use client";
import { atFrame } from "@/client/bench/counting";
import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { keyframesOf } from "@/client/bench/keyframes";
import { STILL } from "@/client/bench/shapes";
import { BRUSH_TOOLS, MASK_TOOLS, retouching, selectedLayer, touchesOpen } from "@/client/bench/state";
import { type KeyId, keysOf } from "@/client/input/keys";
import { isPatch } from "@/core/document";
import { isKeyed, withKey, withoutKey } from "@/core/time/keyed";
import { copyToClipboard, pasteFromClipboard } from "./clipboard";
import { useBench } from "./context";
import { togglePanes } from "./folding";
import { isTyping, useHeld } from "./useHeld";
import { usePreferences } from "./usePreferences";
import { panBy, quarterOf, turnedStep, zoomBy } from "../viewer/zoom";

/** How far a key moves the picture, in screen pixels. */
const PAN = 80;

/** Whether a key ticks what has the focus. */
const ticks = (e: KeyboardEvent) => e.code === "Space" && /^(checkbox|radio|file)$/.test((e.target as HTMLInputElement | null)?.type ?? "");

/** All keys of the bench. */
export function useKeys(): void {
  const bench = useBench();
  const own = usePreferences((p) => p.keys);
  const on = (id: KeyId, run: (e: KeyboardEvent) => void) => {
    // eslint-disable-next-line react-hooks/rules-of-hooks -- a fixed list in a fixed order
    useHotkeys(keysOf(id, own), run, {
      // a key that closes a dialog or a menu has done its work
      ignoreEventWhen: (e) => e.defaultPrevented || isTyping(e) || ticks(e) || !!bench.store.getState().dialog,
      preventDefault: true,
      useKey: false,
      enableOnFormTags: true,
    });
  };
  const st = () => bench.store.getState();
  // a button that has the focus must not be pressed by the key, too
  const unfocused = (run: () => void) => (e: KeyboardEvent) => {
    if ((e.target as HTMLElement)?.tagName === "BUTTON") (e.target as HTMLElement).blur();
    run();
  };
  on("play", unfocused(bench.play));
  on("playBack", unfocused(bench.playBack));
  on("slower", () => bench.shuttle(-1));
  on("faster", () => bench.shuttle(1));
  on("loop", () => bench.setLoop(!st().loop));
  on("markIn", () => bench.mark("in", st().frame));
  on("markOut", () => bench.mark("out", st().frame));
  on("unmark", () => bench.unmark());
  /** Whoever goes to a frame wants to be there: playing stops. */
  const goTo = (n: number) => {
    bench.stopPlaying();
    bench.goTo(n);
  };
  const step = (by: number) => goTo(st().frame + by);
  on("back", () => step(-1));
  on("on", () => step(1));
  on("back10", () => step(-10));
  on("on10", () => step(10));
  on("first", () => goTo(st().recipe.shot.in));
  on("last", () => goTo(st().recipe.shot.out));
  on("goTo", () => document.querySelector<HTMLInputElement>("[data-go-to]")?.focus());
  const marks = () => {
    const paint = st().paint;
    if (paint) return [...new Set(touchesOpen(st()).flatMap((t) => t.frames ?? []))].sort((a, b) => a - b);
    const l = selectedLayer(st());
    const layers = l
      ? [l]
      : st()
          .recipe.intruders.flatMap((i) => i.layers)
          .filter(isPatch);
    return [...new Set(layers.flatMap((x) => [x.in, x.out, ...keyframesOf(st().recipe, x)]))].sort((a, b) => a - b);
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
    if (l && st().frame <= l.out) bench.changeLayer(l.id, `Begin the patch at frame ${atFrame(st().frame)}`, (d) => void (d.in = st().frame));
  });
  on("out", () => {
    const l = selectedLayer(st());
    if (l && st().frame >= l.in) bench.changeLayer(l.id, `End the patch at frame ${atFrame(st().frame)}`, (d) => void (d.out = st().frame));
  });
  on("handles", () => bench.set({ handles: !st().handles }));
  on("ghosts", () => bench.set({ ghosts: !st().ghosts }));
  on("holds", () => bench.set({ holds: st().holds === "here" ? "throughout" : "here" }));
  const against = (what: "wipe" | "difference" | "beside") => () => bench.lookAgainst({ against: st().looks.against === what ? "off" : what });
  on("wipe", against("wipe"));
  on("difference", against("difference"));
  on("beside", against("beside"));
  on("alone", () => bench.set({ alone: !st().alone }));
  on("panes", togglePanes);
  on("cross", () => document.querySelector<HTMLElement>("[data-testid=viewer]")?.focus());
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
    bench.changeLayer(l.id, `${had ? "Remove" : "Set"} an opacity keyframe at frame ${atFrame(f)}`, (d) => {
      d.opacity = (had ? withoutKey(l.opacity ?? 1, f) : withKey(l.opacity ?? 1, f)) as typeof d.opacity;
    });
  });
  on("curve", () => bench.set({ curve: st().curve ? null : "opacity" }));
  on("undo", () => void bench.undo());
  on("redo", () => void bench.redo());
  on("history", () => bench.set({ dialog: "history" }));
  on("copy", () => copyToClipboard(bench));
  on("paste", () => pasteFromClipboard(bench));
  on("pickAll", () => !retouching(st()) && bench.pickAll());
  on("round", () => bench.roundPoints());
  on("delete", () => {
    const { touch } = st().retouch;
    const keys = st().keysPicked;
    if (st().drawing.length) bench.set({ drawing: st().drawing.slice(0, -1) });
    else if (retouching(st())) {
      if (touch) bench.deleteTouch(touch);
    } else if (keys.length) bench.deleteKeys();
    else if (st().stage !== "Patch" || !bench.deletePicked()) bench.removeSelected();
  });
  on("leave", () => {
    if (bench.breakOff()) return;
    const s = st();
    if (s.drawing.length && s.stage === "Patch") bench.set({ drawing: [] });
    else if (s.alone) bench.set({ alone: false });
    else if (retouching(s)) {
      const r = s.retouch;
      if (r.aid || r.loop.length || r.touch) bench.retouch({ aid: null, loop: [], touch: null });
      else if (s.plate) bench.openPlate(null);
      else bench.openPaint(null);
    } else if (s.keysPicked.length || s.picked.points.length) bench.set({ keysPicked: [], picked: { shapes: [], points: [] } });
    else bench.select(null);
  });
  on("close", (e) => {
    // what has the focus is pressed
    if (/^(BUTTON|A)$/.test((e.target as HTMLElement)?.tagName)) (e.target as HTMLElement).click();
    else if (st().drawing.length) bench.closeOutline();
  });
  const size = (k: number, more: number) => {
    const next = (v: number) => Math.min(2000, Math.max(1, Math.round(v * k) + more));
    const { retouch, maskBrush } = st();
    if (retouching(st())) bench.retouch({ brush: { ...retouch.brush, size: next(retouch.brush.size) } });
    else bench.set({ maskBrush: { ...maskBrush, size: next(maskBrush.size) } });
  };
  on("smaller", () => size(1 / 1.15, 0));
  on("larger", () => size(1.15, 1));
  const nudge = (right: number, down: number) => () => {
    const [dx, dy] = turnedStep(quarterOf(st()), right, down);
    if (retouching(st())) bench.nudgeSource(dx, dy);
    else if (st().tool === "source") bench.nudgePlace(dx, dy);
    else bench.movePicked({ ...STILL, dx, dy }, "Nudge");
  };
  on("nudgeLeft", nudge(-1, 0));
  on("nudgeRight", nudge(1, 0));
  on("nudgeUp", nudge(0, -1));
  on("nudgeDown", nudge(0, 1));
  on("veil", () => retouching(st()) && bench.veil(st().retouch.veil ? null : { what: "source", share: 0.5 }));
  const tool = (n: number) => () => {
    if (retouching(st())) bench.takeTool(BRUSH_TOOLS[n]);
    else bench.set({ tool: MASK_TOOLS[n], stage: "Patch" });
  };
  on("tool1", tool(0));
  on("tool2", tool(1));
  on("tool3", tool(2));
  on("tool4", tool(3));
  on("tool5", tool(4));
  on("tool6", tool(5));
  on("tool7", tool(6));
  on("keys", () => bench.set({ dialog: "keys" }));

  // keys that count while they are held
  const held = {
    original: useHeld("peekOriginal"),
    matte: useHeld("peekMatte"),
    patch: useHeld("peekPatch"),
    hole: useHeld("peekHole"),
  };
  const peek = (Object.keys(held) as (keyof typeof held)[]).find((k) => held[k]) ?? null;
  useEffect(() => bench.setPeek(peek), [bench, peek]);
}
