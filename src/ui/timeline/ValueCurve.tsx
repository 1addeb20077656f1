"use client";
import { atFrame } from "@/client/editor/counting";
import { type PointerEvent, useEffect, useRef, useState } from "react";
import { type Curve, drawnValue, isNumber, putCurve } from "@/client/editor/curves";
import { layerTitle } from "@/recipe/query";
import type { PatchLayer } from "@/core/document/layer";
import type { Ease } from "@/core/time/easing";
import { isKeyed, type Key, type Keyed, type Value, valueAt, withoutKey, withValue } from "@/core/time/keyed";
import { useEditor, useEditorPick } from "../editor/context";
import { useHold } from "../editor/useHold";
import type { Axis } from "./axis";

interface Props {
  layer: PatchLayer;
  curve: Curve;
  axis: Axis;
  first: number;
  last: number;
  height: number;
}

type Grip = { kind: "key"; f: number } | { kind: "arm"; f: number; which: 0 | 1 };

const THIRDS: [number, number, number, number] = [1 / 3, 1 / 3, 2 / 3, 2 / 3];

/** The curve of one value over time: keys are dragged, a double click sets one, Delete takes one out; the picked key's way to the next has two arms. */
export function ValueCurve({ layer, curve, axis, first, last, height }: Props) {
  const editor = useEditor();
  const { recipe } = useEditorPick("recipe");
  const [picked, setPicked] = useState<number | null>(null);
  const box = useRef<SVGSVGElement>(null);
  const frozen = useRef<{ low: number; high: number } | null>(null);
  const grip = useHold<{ g: Grip; value: Keyed<Value>; range: { low: number; high: number }; moved: boolean }>((held) => {
    frozen.current = null;
    setPicked(held.g.f);
    editor.cancelPreview();
  });
  // a curve that is opened can be seen at once
  useEffect(() => {
    void box.current!.scrollIntoView({ block: "nearest" }); // newer browsers answer with a promise, which is no clean-up
  }, []);
  const numeric = isNumber(curve);
  const keys: Key<Value>[] = isKeyed(curve.value) ? curve.value.keys : [];
  const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i);
  const values = frames.map((n) => drawnValue(curve, n));
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const room = Math.max(most - least, numeric ? (curve.unit === "%" ? 20 : 4) : 1);
  // while something is dragged the range stays, else the curve would flee from the pointer
  const range = frozen.current ?? { low: (least + most - room) / 2 - room * 0.14, high: (least + most + room) / 2 + room * 0.14 };
  const y = (v: number) => height - 3 - ((v - range.low) / (range.high - range.low)) * (height - 6);
  const x = (f: number) => axis.x(f) + axis.per / 2;
  const title = layerTitle(recipe, layer.id);
  const shownOf = (f: number) => drawnValue(curve, f);

  const set = (value: Keyed<Value>, name: string, dragging: boolean) => {
    if (dragging) editor.preview((d) => putCurve(d, layer.id, curve, value));
    else if (!editor.patches.isLocked(layer)) editor.commit(name, (d) => putCurve(d, layer.id, curve, value));
  };
  const begin = (g: Grip) => (e: PointerEvent) => {
    if (e.button !== 0) return;
    e.stopPropagation();
    box.current!.focus();
    setPicked(g.f);
    frozen.current = range;
    grip.take({ g, value: curve.value, range, moved: false }, e, box.current!);
  };
  const place = (e: { clientX: number; clientY: number }) => {
    const r = box.current!.getBoundingClientRect();
    const { low, high } = grip.now?.range ?? range;
    return {
      f: (e.clientX - r.left - axis.per / 2) / axis.per + axisStart(axis),
      v: low + ((height - 3 - (e.clientY - r.top)) / (height - 6)) * (high - low),
    };
  };
  const next = (e: PointerEvent, now = grip.now): { value: Keyed<Value>; name: string; f: number } | null => {
    if (!now || !isKeyed(now.value)) return null;
    const p = place(e);
    const old = now.value.keys;
    const i = old.findIndex((k) => k.f === now.g.f);
    if (i < 0) return null;
    if (now.g.kind === "key") {
      const [lo, hi] = [i ? old[i - 1].f + 1 : 0, i < old.length - 1 ? old[i + 1].f - 1 : 1e8];
      const f = Math.min(hi, Math.max(lo, Math.round(p.f)));
      const clamp = (v: number) => Math.min(curve.range[1], Math.max(curve.range[0], v));
      const digits = curve.unit === "%" ? 2 : 1;
      const v = numeric && !e.shiftKey ? Number(clamp(p.v / curve.factor).toFixed(digits + 2)) : old[i].v;
      return {
        value: { keys: old.map((k, j) => (j === i ? { ...k, f, v: numeric ? Number((v as number).toFixed(digits)) : v } : k)) },
        name: `Move a keyframe of ${curve.label.toLowerCase()} of ${title} to frame ${atFrame(f)}`,
        f,
      };
    }
    const [a, b] = [old[i], old[i + 1]];
    if (!b) return null;
    const [va, vb] = numeric ? [(a.v as number) * curve.factor, (b.v as number) * curve.factor] : [i, i + 1];
    const ease = [...(Array.isArray(a.ease) ? a.ease : THIRDS)] as [number, number, number, number];
    ease[2 * now.g.which] = Number(Math.min(1, Math.max(0, (p.f - a.f) / (b.f - a.f))).toFixed(3));
    if (Math.abs(vb - va) > 1e-9) ease[2 * now.g.which + 1] = Number(((p.v - va) / (vb - va)).toFixed(3));
    return {
      value: { keys: old.map((k, j) => (j === i ? { ...k, ease: ease as Ease } : k)) },
      name: `Ease ${curve.label.toLowerCase()} of ${title}`,
      f: a.f,
    };
  };
  const move = (e: PointerEvent) => {
    const n = next(e);
    if (!n) return;
    grip.now!.moved = true;
    setPicked(n.f);
    set(n.value, n.name, true);
  };
  const up = (e: PointerEvent) => {
    const n = grip.now?.moved ? next(e) : null;
    grip.release();
    frozen.current = null;
    if (n) set(n.value, n.name, false);
  };
  const twice = (e: React.MouseEvent) => {
    const p = place(e);
    const f = Math.min(last, Math.max(first, Math.round(p.f)));
    const now = valueAt(curve.value, f);
    const v = numeric ? Number(Math.min(curve.range[1], Math.max(curve.range[0], p.v / curve.factor)).toFixed(3)) : now;
    setPicked(f);
    set(
      isKeyed(curve.value) ? withValue(curve.value, f, v) : { keys: [{ f, v }] },
      `Set a keyframe of ${curve.label.toLowerCase()} of ${title}`,
      false,
    );
  };
  // listened to at the element itself: the page's own keys must not get it, too
  const newest = useRef((_: KeyboardEvent) => undefined as void);
  useEffect(() => {
    newest.current = key;
  });
  useEffect(() => {
    const el = box.current!;
    const down = (e: KeyboardEvent) => newest.current(e);
    el.addEventListener("keydown", down);
    return () => el.removeEventListener("keydown", down);
  }, []);
  const key = (e: KeyboardEvent) => {
    if ((e.key !== "Delete" && e.key !== "Backspace") || picked === null || !isKeyed(curve.value)) return;
    e.stopPropagation();
    e.preventDefault();
    set(withoutKey(curve.value, picked), `Remove a keyframe of ${curve.label.toLowerCase()} of ${title}`, false);
    setPicked(null);
  };

  const at = keys.findIndex((k) => k.f === picked);
  const [a, b] = [keys[at], keys[at + 1]];
  const ease = a && Array.isArray(a.ease) ? (a.ease as [number, number, number, number]) : THIRDS;
  const arms = a && b && a.ease !== "step" ? ([0, 1] as const).map((w) => ({ w, x: x(a.f + ease[2 * w] * (b.f - a.f)), y: y(shownOf(a.f) + ease[2 * w + 1] * (shownOf(b.f) - shownOf(a.f))) })) : []; // prettier-ignore
  const line = frames.map((n, i) => `${i ? "L" : "M"}${x(n).toFixed(1)} ${y(values[i]).toFixed(1)}`).join("");
  return (
    <svg
      ref={box}
      tabIndex={0}
      role="application"
      aria-label={`Curve of ${curve.label.toLowerCase()}: double click sets a keyframe, Delete takes the picked one out`}
      data-testid="curve"
      width={axis.x(last + 1)}
      height={height}
      className="block outline-none focus-visible:outline-1"
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        setPicked(null);
        box.current!.focus();
      }}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={grip.cancel}
      onLostPointerCapture={grip.cancel}
      onDoubleClick={twice}
    >
      {numeric &&
        [range.high - (range.high - range.low) * 0.12, range.low + (range.high - range.low) * 0.12].map((v) => (
          <text key={v} x={3} y={y(v) + 3} fontSize="10" fill="var(--color-dim)" className="num">
            {Number(v.toFixed(v > 20 ? 0 : 1))}
          </text>
        ))}
      <path d={line} fill="none" stroke="var(--color-ochre)" strokeWidth="1.4" />
      {arms.map(({ w, x: ax, y: ay }) => {
        const [kx, ky] = w === 0 ? [x(a.f), y(shownOf(a.f))] : [x(b.f), y(shownOf(b.f))];
        return (
          <g key={w}>
            <path d={`M${kx} ${ky}L${ax} ${ay}`} stroke="var(--color-dim)" />
            <circle
              data-testid="curve-arm"
              cx={ax}
              cy={ay}
              r="4"
              fill="var(--color-panel)"
              stroke="var(--color-ochre)"
              style={{ cursor: "move" }}
              onPointerDown={begin({ kind: "arm", f: a.f, which: w })}
            />
          </g>
        );
      })}
      {keys.map((k) => (
        <rect
          key={k.f}
          data-testid="curve-key"
          data-frame={k.f}
          x={x(k.f) - 4}
          y={y(shownOf(k.f)) - 4}
          width="8"
          height="8"
          fill={k.f === picked ? "var(--color-ochre)" : "var(--color-bone)"}
          stroke="var(--color-ground)"
          style={{ cursor: "move" }}
          onPointerDown={begin({ kind: "key", f: k.f })}
        />
      ))}
    </svg>
  );
}

/** The frame at the left end of an axis. */
const axisStart = (axis: Axis) => -axis.x(0) / axis.per;
