"use client";
import clsx from "clsx";
import { type KeyboardEvent, type PointerEvent, useContext, useEffect, useId, useRef, useState } from "react";
import { calculate } from "@/client/input/arithmetic";
import { EditorContext } from "../editor/context";
import { useHold } from "../editor/useHold";
import { Tip } from "./Tip";

interface Props {
  label: string;
  value: number;
  /** The range of dragging; numbers beyond it can be typed, up to `least` and `most`. */
  min: number;
  max: number;
  least?: number;
  most?: number;
  step?: number;
  unit?: string;
  /** Value a double click on the label goes back to. */
  reset?: number;
  /** Drag or wheel, not stored yet. */
  onDrag?: (v: number) => void;
  onCommit: (v: number) => void;
  /** How the value is written and read, where that is not by its digits. */
  count?: { show: (v: number) => string; read: (text: string, from: number) => number | null };
  keyed?: { here: boolean; any: boolean; toggle: () => void };
  bare?: boolean;
  disabled?: boolean;
}

/** A number: typed (sums are worked out), dragged sideways, stepped by the arrow keys or the wheel, set back by a double click on its name. */
export function NumberField({
  label,
  value,
  min,
  max,
  least = min,
  most = max,
  step = 1,
  unit,
  reset,
  onDrag,
  onCommit,
  count,
  keyed,
  bare,
  disabled,
}: Props) {
  const id = useId();
  const digits = step < 1 ? (step < 0.1 ? 2 : 1) : 0;
  const shown = count ? count.show(value) : String(Number(value.toFixed(Math.max(digits, 2))));
  const read = (s: string) => (count ? count.read(s, value) : calculate(s));
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const hold = useHold<{ x: number; from: number; last: number; moved: boolean }>((d) => {
    if (!d.moved) return;
    // in the editor the change that was only shown goes; elsewhere the number goes back
    if (editor) editor.cancelPreview();
    else onDrag?.(d.from);
  });
  const editor = useContext(EditorContext);
  /** Enter has settled what was typed: leaving the field is not to do it again. */
  const settled = useRef(false);
  const clamp = (v: number, a = least, b = most) => Math.min(b, Math.max(a, Number(v.toFixed(4))));
  useEffect(() => setWrong(false), [value]);

  const finish = (s: string) => {
    const v = read(s);
    if (v === null) setWrong(true);
    else {
      setText(null);
      setWrong(false);
      const c = clamp(v);
      if (c !== value) onCommit(c);
    }
  };
  const keys = (e: KeyboardEvent<HTMLInputElement>) => {
    e.stopPropagation();
    if (e.key === "Enter") {
      finish(e.currentTarget.value);
      // what was typed is settled: the keys belong to the picture again
      settled.current = read(e.currentTarget.value) !== null;
      if (settled.current) e.currentTarget.blur();
    } else if (e.key === "Escape") {
      hold.cancel();
      setText(null);
      setWrong(false);
      e.currentTarget.blur();
    } else if (e.key === "ArrowUp" || e.key === "ArrowDown") {
      e.preventDefault();
      const by = (e.key === "ArrowUp" ? 1 : -1) * step * (e.shiftKey ? 10 : 1);
      setText(null);
      onCommit(clamp((read(e.currentTarget.value) ?? value) + by));
    }
  };
  // over a field that has the focus the wheel steps it; over others it scrolls the card
  const wheel = useRef((_: WheelEvent) => undefined as void);
  useEffect(() => {
    wheel.current = (e) => {
      if (document.activeElement !== input.current || disabled) return;
      e.preventDefault();
      setText(null);
      onCommit(clamp(value - Math.sign(e.deltaY) * step * (e.shiftKey ? 10 : 1)));
    };
  });
  useEffect(() => {
    const el = input.current!;
    const turn = (e: WheelEvent) => wheel.current(e);
    el.addEventListener("wheel", turn, { passive: false });
    return () => el.removeEventListener("wheel", turn);
  }, []);
  const down = (e: PointerEvent<HTMLInputElement>) => {
    if (disabled || document.activeElement === input.current) return;
    hold.take({ x: e.clientX, from: value, last: value, moved: false }, e);
  };
  const move = (e: PointerEvent<HTMLInputElement>) => {
    const d = hold.now;
    if (!d) return;
    const dx = e.clientX - d.x;
    if (!d.moved && Math.abs(dx) < 4) return;
    d.moved = true;
    d.last = clamp(d.from + Math.round(dx / 2) * step * (e.shiftKey ? 10 : 1), Math.min(min, d.from), Math.max(max, d.from));
    onDrag?.(d.last);
  };
  const up = () => {
    const d = hold.release();
    if (d?.moved) {
      input.current?.blur();
      onCommit(d.last);
    } else if (d) input.current?.select();
  };
  const share = (value - min) / (max - min);
  const field = (
    <div
      className={clsx(
        "relative flex h-7 min-w-0 items-center overflow-hidden rounded-md border bg-ground",
        bare ? "flex-1" : "w-[118px]",
        wrong ? "border-brick" : "border-line focus-within:border-ochre",
        disabled && "opacity-45",
      )}
    >
      <input
        ref={input}
        id={id}
        aria-label={bare ? label : undefined}
        aria-invalid={wrong}
        disabled={disabled}
        className="num h-full w-full min-w-0 cursor-ew-resize bg-transparent px-2 text-bone outline-none focus:cursor-text"
        value={text ?? shown}
        onChange={(e) => setText(e.target.value)}
        onBlur={(e) => {
          if (text !== null && !settled.current) finish(e.target.value);
          settled.current = false;
        }}
        onKeyDown={keys}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={hold.cancel}
        onLostPointerCapture={hold.cancel}
        spellCheck={false}
        autoComplete="off"
      />
      {unit && <span className="pointer-events-none pr-2 text-[12px] text-dim">{unit}</span>}
      {!bare && max < 1e5 && (
        <span
          className="pointer-events-none absolute bottom-0 left-0 h-[2px] bg-dim"
          style={{ width: `${Math.min(100, Math.max(0, share * 100))}%` }}
        />
      )}
    </div>
  );
  if (bare) return field;
  return (
    <div className="flex h-8 items-center gap-2">
      <label
        htmlFor={id}
        className="w-[84px] shrink-0 text-dim"
        onDoubleClick={() => reset !== undefined && onCommit(reset)}
        title={reset !== undefined ? `Double click: back to ${reset}` : undefined}
      >
        {label}
      </label>
      {field}
      {keyed && (
        <Tip text={keyed.here ? `Remove the keyframe of ${label.toLowerCase()} here` : `Keyframe ${label.toLowerCase()} here`} side="left">
          <button
            type="button"
            aria-label={`Keyframe ${label.toLowerCase()}`}
            aria-pressed={keyed.here}
            onClick={keyed.toggle}
            className="flex h-7 w-6 items-center justify-center"
          >
            <svg width="10" height="16" viewBox="0 0 10 16" aria-hidden>
              <circle
                cx="5"
                cy="4.5"
                r="3.6"
                fill={keyed.here ? "var(--color-ochre)" : "none"}
                stroke={keyed.any ? "var(--color-ochre)" : "var(--color-dim)"}
                strokeWidth="1.2"
              />
              <path d="M5 8.2V15" stroke={keyed.any ? "var(--color-ochre)" : "var(--color-dim)"} strokeWidth="1.2" />
            </svg>
          </button>
        </Tip>
      )}
    </div>
  );
}
