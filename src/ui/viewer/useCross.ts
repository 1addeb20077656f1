"use client";
import { closeDrawn } from "@/client/editor/tools/follow";
import { type FocusEvent, type KeyboardEvent, type RefObject, useEffect, useRef } from "react";
import { create } from "zustand";
import type { Editor } from "@/client/editor/editor";
import { takeOf } from "@/client/editor/state/select";
import { offStage, quarterOf, stageOf, turnedStep } from "./zoom";
import { openPlate, openPaint } from "@/client/editor/state/mode";

/** The cross with which the picture is drawn on by keys, in whole pixels of the take; apart from the editor's state, since it changes with every key. */
export const useCrossPlace = create<{ on: boolean; x: number; y: number; down: boolean }>(() => ({ on: false, x: 0, y: 0, down: false }));

const ARROWS: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
/** How far a step goes with Shift, in pixels. */
const FAR = 10;
/** No pointer of a browser's own has this number. */
const POINTER = 4711;

/**
 * Drawing on the picture by keys: while it has the focus, arrows move a cross by one pixel, with Shift by ten; Space presses and
 * lets go there, as a pointer would, so that every tool can be used; Enter ends what was begun, or closes an outline.
 */
export function useCross(editor: Editor, box: RefObject<HTMLElement | null>) {
  /** A press that brings the focus along is the pointer's: the arrows go on stepping through the frames then. */
  const byPointer = useRef(false);
  useEffect(() => {
    const up = () => {
      byPointer.current = false;
    };
    window.addEventListener("pointerup", up, true);
    window.addEventListener("pointercancel", up, true);
    return () => {
      window.removeEventListener("pointerup", up, true);
      window.removeEventListener("pointercancel", up, true);
    };
  }, []);

  /** Tells the surface that is drawn on what a pointer at the cross would tell it. */
  const tell = (type: "pointermove" | "pointerdown" | "pointerup" | "pointercancel", e: { altKey: boolean }) => {
    const surface = box.current?.querySelector<HTMLElement>("[data-surface]");
    if (!surface) return;
    const s = editor.store.getState();
    const { size, shape, viewport } = stageOf(s);
    const { x, y } = useCrossPlace.getState();
    const [vx, vy] = offStage(shape, size, viewport.left + x * viewport.scale, viewport.top + y * viewport.scale);
    const r = box.current!.getBoundingClientRect();
    surface.dispatchEvent(
      new PointerEvent(type, {
        bubbles: true,
        cancelable: true,
        pointerId: POINTER,
        isPrimary: true,
        button: type === "pointermove" ? -1 : 0,
        buttons: type === "pointerup" ? 0 : 1,
        clientX: r.left + vx,
        clientY: r.top + vy,
        altKey: e.altKey,
      }),
    );
  };

  const step = (e: KeyboardEvent, way: [number, number]) => {
    const s = editor.store.getState();
    const { width, height } = takeOf(s).info!;
    const by = e.shiftKey ? FAR : 1;
    const [dx, dy] = turnedStep(quarterOf(s), way[0] * by, way[1] * by);
    const { x, y } = useCrossPlace.getState();
    // some way beyond the picture too: a thing may hang into it
    const within = (v: number, size: number) => Math.min(size + size / 4, Math.max(-size / 4, v));
    useCrossPlace.setState({ x: within(x + dx, width), y: within(y + dy, height) });
    tell("pointermove", e);
  };

  const press = (e: KeyboardEvent, click: boolean) => {
    const { down } = useCrossPlace.getState();
    if (!down) tell("pointerdown", e);
    if (down || click) tell("pointerup", e);
    useCrossPlace.setState({ down: !down && !click });
  };

  const onKeyDown = (e: KeyboardEvent) => {
    if (e.target !== box.current || e.ctrlKey || e.metaKey) return;
    const s = editor.store.getState();
    const drawing = s.mode.stage === "Patch" && !openPlate(s) && !openPaint(s);
    const { down } = useCrossPlace.getState();
    if (ARROWS[e.key]) step(e, ARROWS[e.key]);
    else if (e.code === "Space" && !e.repeat) press(e, drawing && s.tool === "outline");
    else if (e.key === "Enter" && down) press(e, false);
    else if (e.key === "Enter" && drawing && s.drawing.length >= 3) closeDrawn(editor);
    else if (e.key === "Escape" && down) {
      tell("pointercancel", e);
      useCrossPlace.setState({ down: false });
    } else if (e.key === "Escape" && !s.drawing.length) box.current!.blur();
    else return;
    e.preventDefault();
    e.stopPropagation();
  };

  const onFocus = (e: FocusEvent) => {
    if (e.target !== box.current) return;
    if (byPointer.current) return box.current!.blur();
    const s = editor.store.getState();
    const { size, viewport } = stageOf(s);
    const { width, height } = takeOf(s).info!;
    const { x, y } = useCrossPlace.getState();
    const stage = [viewport.left + x * viewport.scale, viewport.top + y * viewport.scale];
    // it begins where it was left, as long as that is in sight; else in the middle of what is
    const seen = (x || y) && stage[0] >= 0 && stage[1] >= 0 && stage[0] <= Math.max(size.w, size.h) && stage[1] <= Math.max(size.w, size.h);
    const middle = s.zoom.scale === null ? [width / 2, height / 2] : [s.zoom.x, s.zoom.y];
    useCrossPlace.setState({ on: true, down: false, ...(seen ? {} : { x: Math.round(middle[0]), y: Math.round(middle[1]) }) });
    tell("pointermove", { altKey: false });
  };

  const onBlur = (e: FocusEvent) => {
    if (e.target !== box.current || !useCrossPlace.getState().on) return;
    if (useCrossPlace.getState().down) tell("pointercancel", { altKey: false });
    useCrossPlace.setState({ on: false, down: false });
  };

  return {
    onKeyDown,
    onFocus,
    onBlur,
    pointerComes: () => {
      byPointer.current = true;
    },
  };
}
