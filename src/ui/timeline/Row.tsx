"use client";
import clsx from "clsx";
import { GripVertical } from "lucide-react";
import { type PointerEvent, type ReactNode, useRef, useState } from "react";

interface Props {
  label: ReactNode;
  labelWidth: number;
  note?: string;
  fault?: boolean;
  strong?: boolean;
  height: number;
  /** Where the row stands among those that can be put in another order. */
  order?: { index: number; heights: number[]; move: (to: number) => void };
  onSelect?: () => void;
  children: ReactNode;
}

/** One row of the timeline; by its grip it is dragged to another place, or moved by the arrow keys. */
export function Row({ label, labelWidth, note, fault, strong, height, order, onSelect, children }: Props) {
  const from = useRef<number | null>(null);
  const [by, setBy] = useState(0);
  /** The place a row comes to when it is dragged by so many pixels. */
  const place = (dy: number) => {
    const { index, heights } = order!;
    let [to, rest] = [index, dy];
    while (rest > heights[to + 1] / 2 && to < heights.length - 1) rest -= heights[++to];
    while (rest < -heights[to - 1] / 2 && to > 0) rest += heights[--to];
    return to;
  };
  const grip = order && {
    onPointerDown(e: PointerEvent) {
      if (e.button !== 0) return;
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      from.current = e.clientY;
    },
    onPointerMove(e: PointerEvent) {
      if (from.current !== null) setBy(e.clientY - from.current);
    },
    onPointerUp(e: PointerEvent) {
      if (from.current === null) return;
      const to = place(e.clientY - from.current);
      from.current = null;
      setBy(0);
      order.move(to);
    },
  };
  return (
    <div
      className={clsx("flex border-b border-line", by !== 0 && "relative z-10 bg-raised opacity-90")}
      style={{ height, transform: by ? `translateY(${by}px)` : undefined }}
    >
      <div className="flex shrink-0 items-center gap-1 border-r border-line pr-3.5" style={{ width: labelWidth, paddingLeft: order ? 0 : 14 }}>
        {order && (
          <button
            type="button"
            aria-label={`Move the row of ${typeof label === "string" ? label : "this"}`}
            title="Drag to another place; what stands lower is laid later"
            className="flex h-6 w-3.5 cursor-grab touch-none items-center justify-center text-line hover:text-dim"
            onKeyDown={(e) => {
              if (e.key !== "ArrowUp" && e.key !== "ArrowDown") return;
              e.preventDefault();
              e.stopPropagation();
              order.move(order.index + (e.key === "ArrowUp" ? -1 : 1));
            }}
            {...grip}
          >
            <GripVertical size={12} />
          </button>
        )}
        {onSelect ? (
          <button
            type="button"
            className={clsx("min-w-0 flex-1 truncate text-left", strong ? "font-semibold text-ochre" : "hover:text-ochre")}
            onClick={onSelect}
          >
            {label}
          </button>
        ) : (
          <span className={clsx("min-w-0 flex-1 truncate", strong && "font-semibold")}>{label}</span>
        )}
        {note && <span className={clsx("text-[12px]", fault ? "text-brick" : "text-dim")}>{note}</span>}
      </div>
      <div className="relative flex-1 overflow-hidden">{children}</div>
    </div>
  );
}
