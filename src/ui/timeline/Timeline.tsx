"use client";
import clsx from "clsx";
import { type PointerEvent, useEffect, useRef, useState } from "react";
import { quickUrl } from "@/client/api";
import { keyframesOf } from "@/client/bench/keyframes";
import { layerTitle, takeOf } from "@/client/bench/state";
import { leaks } from "@/client/bench/scout";
import { isPaint, isPatch, seenFrames } from "@/core/document";
import { useBench, useBenchPick } from "../bench/context";
import type { Axis } from "./axis";
import { Band } from "./Band";
import { CurveRow } from "./CurveRow";
import { PaintBand } from "./PaintBand";
import { SeenBand } from "./SeenBand";

const LABEL = 244;
const RIGHT = 18;
/** Height of the row of curves. */
const CURVES = 40;

/** The shot in time: a row of small frames, then for every intruder where it is covered, with its keyframes. */
export function Timeline() {
  const bench = useBench();
  const s = useBenchPick("recipe", "shot", "frame", "selection", "playing", "survey", "stage");
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1000);
  const { in: a, out: b } = s.recipe.shot;
  const take = takeOf(s);
  useEffect(() => {
    const o = new ResizeObserver(() => setWidth(box.current!.clientWidth));
    o.observe(box.current!);
    return () => o.disconnect();
  }, []);
  const span = Math.max(10, width - LABEL - RIGHT);
  const per = span / (b - a + 1);
  const axis: Axis = { per, x: (f) => (f - a) * per, frameAt: (px) => Math.min(b, Math.max(a, a + Math.floor(px / per))) };
  const thumb = 64;
  const count = Math.max(1, Math.floor(span / thumb));
  const step = niceStep(70 / per);
  const ticks = Array.from({ length: Math.floor((b - a) / step) + 1 }, (_, i) => a + i * step);

  const scrub = (e: PointerEvent) => {
    if (e.type === "pointerdown") {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      if (s.playing) bench.stopPlaying();
    } else if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
    bench.goTo(axis.frameAt(e.clientX - e.currentTarget.getBoundingClientRect().left));
  };
  const rows = s.recipe.intruders.map((i) => {
    const layers = i.layers.filter((l) => isPatch(l) || isPaint(l));
    const seen = seenFrames(i) ? 16 : 0;
    return { intruder: i, layers, seen, height: Math.max(30, seen + layers.length * 22 + 8) };
  });
  const survey = s.stage === "Scout" ? s.survey?.survey : null;
  return (
    <section
      aria-label="Timeline"
      ref={box}
      className="relative col-span-3 max-h-[220px] min-h-[150px] overflow-y-auto border-t border-line bg-panel select-none"
    >
      <div className="sticky top-0 z-10 flex h-[26px] border-b border-line bg-panel">
        <span className="num shrink-0 border-r border-line px-3.5 leading-[26px] text-dim" style={{ width: LABEL }}>
          frame
        </span>
        <div
          role="slider"
          tabIndex={0}
          aria-label="Playhead"
          aria-valuemin={a}
          aria-valuemax={b}
          aria-valuenow={s.frame}
          data-testid="ruler"
          className="relative touch-none"
          style={{ width: span }}
          onPointerDown={scrub}
          onPointerMove={scrub}
        >
          {ticks
            .filter((f) => f === a || Math.abs(axis.x(f) + 8 - axis.x(s.frame) - per / 2) > 26)
            .map((f) => (
              <span
                key={f}
                className="num absolute top-0 h-full border-l border-line pl-1 text-[12px] leading-[26px] text-dim"
                style={{ left: axis.x(f) }}
              >
                {f}
              </span>
            ))}
          <span
            className="num pointer-events-none absolute top-[3px] z-10 rounded bg-ochre px-1.5 text-[12px] leading-5 font-semibold text-ground"
            style={{ left: axis.x(s.frame) + per / 2, transform: "translateX(-50%)" }}
          >
            {s.frame}
          </span>
        </div>
      </div>
      <Row label="Shot" height={38}>
        <div className="flex h-full overflow-hidden" style={{ width: span }} aria-hidden onPointerDown={scrub} onPointerMove={scrub}>
          {Array.from({ length: count }, (_, i) => {
            const f = axis.frameAt(((i + 0.5) * span) / count);
            return f < take.quick ? (
              <img
                key={i}
                src={quickUrl(take.id, f)}
                alt=""
                draggable={false}
                className="pointer-events-none h-full object-cover"
                style={{ width: span / count }}
              />
            ) : null;
          })}
        </div>
      </Row>
      {survey && (
        <Row label="Light, camera" note="measured" height={CURVES}>
          <CurveRow survey={survey} axis={axis} first={a} last={b} height={CURVES - 1} />
        </Row>
      )}
      {rows.map(({ intruder, layers: ls, seen, height }) => {
        const picked = s.selection?.kind === "intruder" && s.selection.intruder === intruder.id;
        const selected = picked || ls.some((l) => s.selection?.kind === "layer" && s.selection.layer === l.id);
        const open = leaks(intruder, a, b);
        const note = open.length && ls.length ? "leaks" : seen && ls.length ? "seen, covered" : seen ? "seen" : "covered";
        return (
          <Row key={intruder.id} label={intruder.name} note={note} fault={note === "leaks"} strong={selected} height={height}>
            <SeenBand intruder={intruder} axis={axis} leaks={ls.length ? open : []} first={a} last={b} />
            {ls.map((l, i) => {
              const common = {
                axis,
                top: seen + 6 + i * 22,
                title: layerTitle(s.recipe, l.id),
                off: intruder.on === false || l.on === false,
                selected: s.selection?.kind === "layer" && s.selection.layer === l.id,
              };
              return isPaint(l) ? (
                <PaintBand key={l.id} layer={l} {...common} />
              ) : (
                <Band key={l.id} layer={l} first={a} last={b} keyframes={keyframesOf(l)} {...common} />
              );
            })}
          </Row>
        );
      })}
      {rows.length === 0 && (
        <p className="px-3.5 py-3 text-dim" style={{ marginLeft: LABEL }}>
          What you lay over the shot appears here, with its first and last frame, fades and keyframes.
        </p>
      )}
      <div
        aria-hidden
        className="pointer-events-none absolute top-[22px] w-px bg-ochre"
        style={{ left: LABEL + axis.x(s.frame) + per / 2, height: 4 + 38 + (survey ? CURVES : 0) + rows.reduce((h, r) => h + r.height, 0) }}
      />
    </section>
  );
}

function Row({
  label,
  note,
  fault,
  strong,
  height,
  children,
}: {
  label: string;
  note?: string;
  fault?: boolean;
  strong?: boolean;
  height: number;
  children: React.ReactNode;
}) {
  return (
    <div className="flex border-b border-line" style={{ height }}>
      <div className="flex shrink-0 items-center justify-between border-r border-line px-3.5" style={{ width: LABEL }}>
        <span className={clsx("truncate", strong && "font-semibold")}>{label}</span>
        {note && <span className={clsx("text-[12px]", fault ? "text-brick" : "text-dim")}>{note}</span>}
      </div>
      <div className="relative flex-1">{children}</div>
    </div>
  );
}

/** A round number of frames between two labels. */
function niceStep(least: number): number {
  for (const k of [1, 2, 4, 8, 12, 24, 48, 120, 240, 480, 1200, 2400, 6000, 12000]) if (k >= least) return k;
  return 24000;
}
