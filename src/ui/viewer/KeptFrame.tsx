"use client";
import { framedNow } from "@/client/editor/actions/view";
import { selectedReframe, takeOf } from "@/client/editor/state/select";
import { framingOf, keptCorners } from "@/core/compose/reframe";
import { useEditorPick } from "../editor/context";
import type { Viewport } from "./zoom";

/** What of the take is kept where it is reframed: a line around it, and all that goes dimmed. */
export function KeptFrame({ viewport }: { viewport: Viewport }) {
  const s = useEditorPick("recipe", "selection", "frame", "mode", "framed", "shot");
  const layer = selectedReframe(s);
  const { info } = takeOf(s);
  if (!layer || !info || framedNow(s) || s.frame < layer.in || s.frame > layer.out) return null;
  const { width, height } = info;
  const at = ([x, y]: readonly [number, number]) => `${viewport.left + x * viewport.scale} ${viewport.top + y * viewport.scale}`;
  const path = (points: readonly (readonly [number, number])[]) => `M${points.map(at).join("L")}Z`;
  const kept = path(keptCorners(framingOf(layer, s.frame), width, height));
  const whole = path([
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ]);
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" data-testid="kept-frame" aria-hidden>
      <path d={whole + kept} fillRule="evenodd" className="fill-ground/60" />
      <path d={kept} fill="none" className="stroke-bone" strokeWidth={1.5} />
    </svg>
  );
}
