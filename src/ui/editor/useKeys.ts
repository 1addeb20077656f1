"use client";
import { atFrame } from "@/client/editor/counting";
import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { keyframesOf } from "@/client/editor/keyframes";
import { STILL } from "@/client/editor/shapes";
import { BRUSH_TOOLS, MASK_TOOLS, retouching, selectedLayer, touchesOpen } from "@/client/editor/state";
import { type KeyId, keysOf } from "@/client/input/keys";
import { isPatch } from "@/core/document";
import { isKeyed, withKey, withoutKey } from "@/core/time/keyed";
import { copyToClipboard, pasteFromClipboard } from "./clipboard";
import { useEditor } from "./context";
import { togglePanes } from "./folding";
import { isTyping, useHeld } from "./useHeld";
import { usePreferences } from "./usePreferences";
import { panBy, quarterOf, turnedStep, zoomBy } from "../viewer/zoom";

/** How far a key moves the picture, in screen pixels. */
const PAN = 80;

/** Whether a key ticks what has the focus. */
const ticks = (e: KeyboardEvent) => e.code === "Space" && /^(checkbox|radio|file)$/.test((e.target as HTMLInputElement | null)?.type ?? "");

/** All keys of the editor. */
export function useKeys(): void {
  const editor = useEditor();
  const own = usePreferences((p) => p.keys);
  const on = (id: KeyId, run: (e: KeyboardEvent) => void) => {
    // eslint-disable-next-line react-hooks/rules-of-hooks -- a fixed list in a fixed order
    useHotkeys(keysOf(id, own), run, {
      // a key that closes a dialog or a menu has done its work
      ignoreEventWhen: (e) => e.defaultPrevented || isTyping(e) || ticks(e) || !!editor.store.getState().dialog,
      preventDefault: true,
      useKey: false,
      enableOnFormTags: true,
    });
  };
  const st = () => editor.store.getState();
  // a button that has the focus must not be pressed by the key, too
  const unfocused = (run: () => void) => (e: KeyboardEvent) => {
    if ((e.target as HTMLElement)?.tagName === "BUTTON") (e.target as HTMLElement).blur();
    run();
  };
  on("play", unfocused(editor.play));
  on("playBack", unfocused(editor.playBack));
  on("slower", () => editor.shuttle(-1));
  on("faster", () => editor.shuttle(1));
  on("loop", () => editor.setLoop(!st().loop));
  on("markIn", () => editor.mark("in", st().frame));
  on("markOut", () => editor.mark("out", st().frame));
  on("unmark", () => editor.unmark());
  /** Whoever goes to a frame wants to be there: playing stops. */
  const goTo = (n: number) => {
    editor.stopPlaying();
    editor.goTo(n);
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
    if (l && st().frame <= l.out) editor.changeLayer(l.id, `Begin the patch at frame ${atFrame(st().frame)}`, (d) => void (d.in = st().frame));
  });
  on("out", () => {
    const l = selectedLayer(st());
    if (l && st().frame >= l.in) editor.changeLayer(l.id, `End the patch at frame ${atFrame(st().frame)}`, (d) => void (d.out = st().frame));
  });
  on("handles", () => editor.set({ handles: !st().handles }));
  on("ghosts", () => editor.set({ ghosts: !st().ghosts }));
  on("holds", () => editor.set({ holds: st().holds === "here" ? "throughout" : "here" }));
  const against = (what: "wipe" | "difference" | "beside") => () => editor.lookAgainst({ against: st().looks.against === what ? "off" : what });
  on("wipe", against("wipe"));
  on("difference", against("difference"));
  on("beside", against("beside"));
  on("alone", () => editor.set({ alone: !st().alone }));
  on("panes", togglePanes);
  on("cross", () => document.querySelector<HTMLElement>("[data-testid=viewer]")?.focus());
  on("fit", () => editor.set({ zoom: { ...st().zoom, scale: null } }));
  on("full", () => editor.set({ zoom: { ...st().zoom, scale: 1 } }));
  on("closer", () => zoomBy(editor, 1.25));
  on("farther", () => zoomBy(editor, 0.8));
  on("panLeft", () => panBy(editor, PAN, 0));
  on("panRight", () => panBy(editor, -PAN, 0));
  on("panUp", () => panBy(editor, 0, PAN));
  on("panDown", () => panBy(editor, 0, -PAN));
  on("plate", () => editor.makePlate());
  on("paint", () => editor.paintFrames());
  on("keyframe", () => {
    const l = selectedLayer(st());
    if (!l) return;
    const f = st().frame;
    const had = isKeyed(l.opacity ?? 1) && (l.opacity as { keys: { f: number }[] }).keys.some((k) => k.f === f);
    editor.changeLayer(l.id, `${had ? "Remove" : "Set"} an opacity keyframe at frame ${atFrame(f)}`, (d) => {
      d.opacity = (had ? withoutKey(l.opacity ?? 1, f) : withKey(l.opacity ?? 1, f)) as typeof d.opacity;
    });
  });
  on("curve", () => editor.set({ curve: st().curve ? null : "opacity" }));
  on("undo", () => void editor.undo());
  on("redo", () => void editor.redo());
  on("history", () => editor.set({ dialog: "history" }));
  on("copy", () => copyToClipboard(editor));
  on("paste", () => pasteFromClipboard(editor));
  on("pickAll", () => !retouching(st()) && editor.pickAll());
  on("round", () => editor.roundPoints());
  on("delete", () => {
    const { touch } = st().retouch;
    const keys = st().keysPicked;
    if (st().drawing.length) editor.set({ drawing: st().drawing.slice(0, -1) });
    else if (retouching(st())) {
      if (touch) editor.deleteTouch(touch);
    } else if (keys.length) editor.deleteKeys();
    else if (st().stage !== "Patch" || !editor.deletePicked()) editor.removeSelected();
  });
  on("leave", () => {
    if (editor.breakOff()) return;
    const s = st();
    if (s.drawing.length && s.stage === "Patch") editor.set({ drawing: [] });
    else if (s.alone) editor.set({ alone: false });
    else if (retouching(s)) {
      const r = s.retouch;
      if (r.aid || r.loop.length || r.touch) editor.retouch({ aid: null, loop: [], touch: null });
      else if (s.plate) editor.openPlate(null);
      else editor.openPaint(null);
    } else if (s.keysPicked.length || s.picked.points.length) editor.set({ keysPicked: [], picked: { shapes: [], points: [] } });
    else editor.select(null);
  });
  on("close", (e) => {
    // what has the focus is pressed
    if (/^(BUTTON|A)$/.test((e.target as HTMLElement)?.tagName)) (e.target as HTMLElement).click();
    else if (st().drawing.length) editor.closeOutline();
  });
  const size = (k: number, more: number) => {
    const next = (v: number) => Math.min(2000, Math.max(1, Math.round(v * k) + more));
    const { retouch, maskBrush } = st();
    if (retouching(st())) editor.retouch({ brush: { ...retouch.brush, size: next(retouch.brush.size) } });
    else editor.set({ maskBrush: { ...maskBrush, size: next(maskBrush.size) } });
  };
  on("smaller", () => size(1 / 1.15, 0));
  on("larger", () => size(1.15, 1));
  const nudge = (right: number, down: number) => () => {
    const [dx, dy] = turnedStep(quarterOf(st()), right, down);
    if (retouching(st())) editor.nudgeSource(dx, dy);
    else if (st().tool === "source") editor.nudgePlace(dx, dy);
    else editor.movePicked({ ...STILL, dx, dy }, "Nudge");
  };
  on("nudgeLeft", nudge(-1, 0));
  on("nudgeRight", nudge(1, 0));
  on("nudgeUp", nudge(0, -1));
  on("nudgeDown", nudge(0, 1));
  on("veil", () => retouching(st()) && editor.veil(st().retouch.veil ? null : { what: "source", share: 0.5 }));
  const tool = (n: number) => () => {
    if (retouching(st())) editor.takeTool(BRUSH_TOOLS[n]);
    else editor.set({ tool: MASK_TOOLS[n], stage: "Patch" });
  };
  on("tool1", tool(0));
  on("tool2", tool(1));
  on("tool3", tool(2));
  on("tool4", tool(3));
  on("tool5", tool(4));
  on("tool6", tool(5));
  on("tool7", tool(6));
  on("keys", () => editor.set({ dialog: "keys" }));

  // keys that count while they are held
  const held = {
    original: useHeld("peekOriginal"),
    matte: useHeld("peekMatte"),
    patch: useHeld("peekPatch"),
    hole: useHeld("peekHole"),
  };
  const peek = (Object.keys(held) as (keyof typeof held)[]).find((k) => held[k]) ?? null;
  useEffect(() => editor.setPeek(peek), [editor, peek]);
}
