"use client";
import clsx from "clsx";
import { type PointerEvent, useEffect, useRef, useState } from "react";
import { curvesOf } from "@/client/editor/curves";
import { keyframesOf } from "@/client/editor/keyframes";
import { layersOf, layerTitle, thingsOf } from "@/recipe/query";
import { selectedLayer, takeOf } from "@/client/editor/state/select";
import { findingWords, proofNow, verdictOn } from "@/client/editor/actions/proving";
import { leaks } from "@/client/editor/seen";
import { isPaint, isPatch, type PatchLayer } from "@/core/document/layer";
import { seenFrames } from "@/core/document/recipe";
import { useEditor, useEditorPick } from "../editor/context";
import { QuickPicture } from "../parts/QuickPicture";
import { axisOf, within, zoomed } from "./axis";
import { Band } from "./Band";
import { FigureCurve } from "./FigureCurve";
import { FindingMarks } from "./FindingMarks";
import { KeyStrip } from "./KeyStrip";
import { PaintBand } from "./PaintBand";
import { Row } from "./Row";
import { Ruler } from "./Ruler";
import { SeenBand } from "./SeenBand";
import { SurveyCurves } from "./SurveyCurves";
import { ValueCurve } from "./ValueCurve";

const LABEL = 244;
const RIGHT = 18;
/** Heights of the rows of curves: what was measured, and one value. */
const CURVES = 40;
const CURVE = 92;

/** The shot in time: a row of small frames, then for every intruder where it is seen and where it is covered, with its keyframes; below it one value's curve. */
export function Timeline() {
  const editor = useEditor();
  const s = useEditorPick("found", "recipe", "shot", "frame", "selection", "playing", "survey", "mode", "span", "curve", "proof");
  const proof = proofNow(s);
  const box = useRef<HTMLElement>(null);
  const rowsBox = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1000);
  const [frame, setFrame] = useState<{ x0: number; y0: number; x1: number; y1: number } | null>(null);
  const { in: a, out: b } = s.recipe.shot;
  const take = takeOf(s);
  useEffect(() => {
    const o = new ResizeObserver(() => {
      setWidth(box.current!.clientWidth);
      // what is said stands above it
      document.documentElement.style.setProperty("--foot", `${box.current!.offsetHeight}px`);
    });
    o.observe(box.current!);
    return () => {
      o.disconnect();
      document.documentElement.style.removeProperty("--foot");
    };
  }, []);
  const span = s.span ?? { from: a, to: b };
  const room = Math.max(10, width - LABEL - RIGHT);
  const axis = axisOf(span.from, span.to, room, a, b);
  const playhead = axis.x(s.frame) + axis.per / 2;

  // zooming and moving in time: Ctrl and the wheel, Shift and the wheel, the middle button
  const wheel = useRef((_: WheelEvent) => undefined as void);
  useEffect(() => {
    wheel.current = (e) => {
      const x = e.clientX - box.current!.getBoundingClientRect().left - LABEL;
      const across = e.shiftKey ? e.deltaY || e.deltaX : Math.abs(e.deltaX) > Math.abs(e.deltaY) ? e.deltaX : 0;
      if (e.ctrlKey || e.metaKey) {
        e.preventDefault();
        editor.timeline.setSpan(zoomed(span, Math.exp(e.deltaY * 0.004), span.from + x / axis.per, a, b));
      } else if (across && s.span) {
        e.preventDefault();
        editor.timeline.setSpan(within({ from: span.from + across / axis.per, to: span.to + across / axis.per }, a, b));
      }
    };
  });
  useEffect(() => {
    const el = box.current!;
    const turn = (e: WheelEvent) => wheel.current(e);
    el.addEventListener("wheel", turn, { passive: false });
    return () => el.removeEventListener("wheel", turn);
  }, []);
  const pan = useRef<{ x: number; span: typeof span } | null>(null);

  // while it plays the playhead stays in sight
  useEffect(() => {
    if (!s.span || (s.frame >= s.span.from && s.frame <= s.span.to)) return;
    const count = s.span.to - s.span.from;
    editor.timeline.setSpan(within({ from: s.frame - count * 0.1, to: s.frame + count * 0.9 }, a, b));
  }, [s.frame, s.span, a, b, editor]);

  const rows = thingsOf(s.recipe).map((i) => {
    const layers = i.layers.filter((l) => isPatch(l) || isPaint(l));
    const seen = seenFrames(i) ? 16 : 0;
    return { intruder: i, layers, seen, height: Math.max(30, seen + layers.length * 22 + 8) };
  });
  const survey = s.mode.stage === "Scout" || s.mode.stage === "Match" ? s.survey?.survey : null;
  const layer = selectedLayer(s);
  const curves = layer && s.curve ? curvesOf(s.recipe, layer) : [];
  const curve = curves.find((c) => c.id === s.curve) ?? curves[0];
  const measured = s.mode.stage === "Proof" && layer ? proof?.figures[layer.id] : undefined;
  const thumbs = Math.max(1, Math.floor(room / 64));

  /** A frame drawn over the rows picks the keyframes within it. */
  const frameDown = (e: PointerEvent) => {
    if (e.button === 1 && s.span) {
      pan.current = { x: e.clientX, span };
      e.currentTarget.setPointerCapture(e.pointerId);
      return;
    }
    if (e.button !== 0) return;
    const r = rowsBox.current!.getBoundingClientRect();
    if (e.clientX - r.left < LABEL) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    setFrame({ x0: e.clientX - r.left, y0: e.clientY - r.top, x1: e.clientX - r.left, y1: e.clientY - r.top });
  };
  const frameMove = (e: PointerEvent) => {
    if (pan.current) {
      const by = (pan.current.x - e.clientX) / axis.per;
      editor.timeline.setSpan(within({ from: pan.current.span.from + by, to: pan.current.span.to + by }, a, b));
    }
    if (!frame) return;
    const r = rowsBox.current!.getBoundingClientRect();
    setFrame({ ...frame, x1: e.clientX - r.left, y1: e.clientY - r.top });
  };
  const frameUp = (e: PointerEvent) => {
    pan.current = null;
    if (!frame) return;
    setFrame(null);
    const r = rowsBox.current!.getBoundingClientRect();
    const [x0, x1] = [frame.x0, frame.x1].sort((p, q) => p - q);
    const [y0, y1] = [frame.y0, frame.y1].sort((p, q) => p - q);
    if (x1 - x0 < 3 && y1 - y0 < 3) return editor.timeline.pickKeyframes([]);
    const lanes = [...rowsBox.current!.querySelectorAll<HTMLElement>("[data-layer]")].filter((l) => {
      const q = l.getBoundingClientRect();
      return q.bottom - r.top > y0 && q.top - r.top < y1;
    });
    const within2 = (f: number) => {
      const x = LABEL + axis.x(f) + axis.per / 2;
      return x >= x0 && x <= x1;
    };
    const all = layersOf(s.recipe);
    const found = lanes.flatMap((l) => {
      const of = all.find((y) => y.id === l.dataset.layer) as PatchLayer | undefined;
      return of && isPatch(of) ? keyframesOf(s.recipe, of).filter(within2).map((f) => ({ layer: of.id, f })) : []; // prettier-ignore
    });
    const old = e.shiftKey ? editor.store.getState().keyframesPicked : [];
    if (found.length && !found.some((k) => layer?.id === k.layer)) editor.selection.select({ kind: "layer", layer: found[0].layer });
    editor.timeline.pickKeyframes([...old, ...found.filter((k) => !old.some((o) => o.layer === k.layer && o.f === k.f))]);
  };

  return (
    <section aria-label="Timeline" ref={box} className="relative h-full overflow-x-hidden overflow-y-auto bg-panel select-none">
      <div className="sticky top-0 z-20 flex h-[32px] border-b border-line bg-panel">
        <span className="shrink-0 border-r border-line" style={{ width: LABEL }}>
          <KeyStrip />
        </span>
        <Ruler axis={axis} first={a} last={b} width={room} />
      </div>
      {s.span && (
        <div className="sticky top-[32px] z-10 h-[5px] bg-ground" style={{ marginLeft: LABEL, width: room }} aria-hidden>
          <div
            className="h-full rounded bg-line"
            style={{ marginLeft: `${(100 * (span.from - a)) / (b - a + 1)}%`, width: `${(100 * (span.to - span.from + 1)) / (b - a + 1)}%` }}
          />
        </div>
      )}
      <div ref={rowsBox} className="relative min-h-[124px] pb-4" onPointerDown={frameDown} onPointerMove={frameMove} onPointerUp={frameUp}>
        <Row label="Shot" labelWidth={LABEL} height={38}>
          <div
            className="flex h-full overflow-hidden"
            style={{ width: room }}
            aria-hidden
            onPointerDown={(e) => {
              if (e.button !== 0) return;
              e.stopPropagation();
              editor.transport.goTo(axis.frameAt(e.clientX - e.currentTarget.getBoundingClientRect().left));
            }}
          >
            {Array.from({ length: thumbs }, (_, i) => {
              const f = axis.frameAt(((i + 0.5) * room) / thumbs);
              return f < take.quick ? (
                <span key={i} className="h-full" style={{ width: room / thumbs }}>
                  <QuickPicture take={take} frame={f} fit="cover" className="h-full" />
                </span>
              ) : null;
            })}
          </div>
        </Row>
        {survey && (
          <Row label="Light, camera" labelWidth={LABEL} note="measured" height={CURVES}>
            <SurveyCurves survey={survey} axis={axis} first={a} last={b} height={CURVES - 1} />
          </Row>
        )}
        {rows.map(({ intruder, layers: ls, seen, height }, index) => {
          const picked = s.selection?.kind === "intruder" && s.selection.intruder === intruder.id;
          const selected = picked || ls.some((l) => s.selection?.kind === "layer" && s.selection.layer === l.id);
          const open = leaks(intruder, a, b);
          // until it is proven, what a patch does is not called clean
          const told = verdictOn(proof, intruder.id);
          const proven = told && ls.length ? (told.verdict === "faults" ? findingWords(told.findings) : told.verdict === "clean" ? "clean, proven" : "not all told") : null; // prettier-ignore
          const note = open.length && ls.length ? "not covered" : proven ? proven : seen && ls.length ? "seen, patch" : seen ? "seen" : "patch";
          return (
            <Row
              key={intruder.id}
              label={intruder.name}
              labelWidth={LABEL}
              note={note}
              fault={note === "not covered" || told?.verdict === "faults"}
              strong={selected}
              height={height}
              order={{ index, heights: rows.map((x) => x.height), move: (to) => editor.patches.orderIntruder(intruder.id, to) }}
              onSelect={() =>
                editor.selection.select(ls.length ? { kind: "layer", layer: ls.at(-1)!.id } : { kind: "intruder", intruder: intruder.id })
              }
            >
              <SeenBand
                intruder={intruder}
                axis={axis}
                leaks={ls.length ? open : []}
                beyond={ls.length ? (s.found[intruder.id]?.beyond ?? []) : []}
                first={a}
                last={b}
              />
              {told && proof && <FindingMarks findings={told.findings} all={proof.findings} axis={axis} height={height} />}
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
                  <Band key={l.id} layer={l} first={a} last={b} keyframes={keyframesOf(s.recipe, l)} {...common} />
                );
              })}
            </Row>
          );
        })}
        {layer && measured && (
          <FigureCurve title={layerTitle(s.recipe, layer.id)} figures={measured} axis={axis} labelWidth={LABEL} height={CURVES} />
        )}
        {layer && curve && (
          <Row
            label={
              <select
                aria-label="Value of the curve"
                className="h-6 w-[150px] rounded-md border border-line bg-ground px-1"
                value={curve.id}
                onChange={(e) => editor.timeline.setCurve(e.target.value)}
              >
                {curves.map((c) => (
                  <option key={c.id} value={c.id}>
                    {c.label}
                  </option>
                ))}
              </select>
            }
            labelWidth={LABEL}
            note={curve.unit}
            height={CURVE}
          >
            <ValueCurve key={`${layer.id}/${curve.id}`} layer={layer} curve={curve} axis={axis} first={a} last={b} height={CURVE - 1} />
          </Row>
        )}
        {rows.length === 0 && (
          <p className="px-3.5 py-3 text-dim" style={{ marginLeft: LABEL }}>
            What you lay over the shot appears here, with its first and last frame, fades and keyframes.
          </p>
        )}
        {playhead >= 0 && playhead <= room && (
          <div aria-hidden className="pointer-events-none absolute top-[-4px] bottom-0 w-px bg-ochre" style={{ left: LABEL + playhead }} />
        )}
        {frame && (
          <div
            aria-hidden
            className={clsx("pointer-events-none absolute border border-dashed border-bone")}
            style={{
              left: Math.min(frame.x0, frame.x1),
              top: Math.min(frame.y0, frame.y1),
              width: Math.abs(frame.x1 - frame.x0),
              height: Math.abs(frame.y1 - frame.y0),
            }}
          />
        )}
      </div>
    </section>
  );
}
