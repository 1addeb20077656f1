"use client";
import { create } from "zustand";
import { takeOf } from "@/client/bench/state";
import { timecodeOf, toTimecode } from "@/core/time/timecode";
import { useBenchState } from "../bench/context";
import { lieOf, viewerSize } from "./zoom";

/** The value under the pointer; apart from the bench's state, since it changes with every move. */
export const usePointer = create<{ text: string }>(() => ({ text: "" }));

/** One quiet line: frame, timecode, exact or quick, zoom, value under the pointer. */
export function StatusLine() {
  const s = useBenchState((x) => x);
  const pointer = usePointer((p) => p.text);
  const take = takeOf(s);
  const { info } = take;
  if (!info) return null;
  const reading = take.state === "reading";
  const fresh = s.shown && s.shown.frame === s.frame;
  const quality = !s.shown ? "loading" : fresh ? s.shown.quality : "quick";
  return (
    <div className="num flex h-[26px] shrink-0 items-center gap-4 overflow-hidden border-t border-line bg-ground px-3.5 text-[12px] whitespace-nowrap">
      <span data-testid="frame">
        frame {s.frame}, last {s.recipe.shot.out}
      </span>
      <span className="text-dim">{(info.timecode && timecodeOf(info.timecode, s.frame, info.rate)) || toTimecode(s.frame, info.rate)}</span>
      <span data-testid="quality">{reading && s.frame >= take.quick ? "not read yet" : quality}</span>
      {reading && (
        <span className="text-ochre" data-testid="reading">
          being read: {take.quick} of about {info.frames} frames
        </span>
      )}
      <span className="text-dim">{Math.round(lieOf(s, viewerSize.w, viewerSize.h).scale * 100)} %</span>
      <span className="text-dim" data-testid="pointer">
        {pointer}
      </span>
      <span className="flex-1" />
      {s.playing && (
        <span className="text-dim" data-testid="dropped">
          {s.dropped} dropped
        </span>
      )}
      <span className="text-dim">
        {info.width}×{info.height} · {Number((info.rate[0] / info.rate[1]).toFixed(3))} · {info.format.bits}-bit
      </span>
    </div>
  );
}
