"use client";
import { type FigureKind, FIGURES, type PatchFigures } from "@/core/proof/finding";
import { FIGURE_WORDS, figureText } from "@/core/proof/words";
import { FIGURE_LIMITS, worstFrame } from "@/core/proof/worst-frame";
import { useEditor, useEditorPick } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import type { Axis } from "./axis";
import { Row } from "./Row";

interface Props {
  /** What the patch is called whose figures these are. */
  title: string;
  figures: PatchFigures;
  axis: Axis;
  labelWidth: number;
  height: number;
}

/** One measured figure of a patch, frame by frame on the timeline's axis, against its limit; a click goes to a frame. */
export function FigureCurve({ title, figures, axis, labelWidth, height }: Props) {
  const editor = useEditor();
  const { show } = useCounting();
  const { frame, proof } = useEditorPick("frame", "proof");
  const { figure: kind } = proof;
  const worst = worstFrame(figures, kind);
  const here = figures[kind][frame - figures.from] ?? null;
  return (
    <Row
      label={
        <span className="flex items-center gap-2 text-[12px]">
          <select
            aria-label="Figure of the curve"
            className="h-6 w-[96px] rounded-md border border-line bg-ground px-1"
            value={kind}
            onChange={(e) => editor.proving.setFigure(e.target.value as FigureKind)}
          >
            {FIGURES.map((k) => (
              <option key={k} value={k}>
                {FIGURE_WORDS[k]}
              </option>
            ))}
          </select>
          {worst && (
            <button
              type="button"
              className="rounded text-dim hover:text-ochre"
              title={`${title}: ${figureText(kind, worst.value)} at frame ${show(worst.f)}, where it is worst`}
              onClick={() => editor.transport.goTo(worst.f)}
            >
              worst at {show(worst.f)}
            </button>
          )}
        </span>
      }
      labelWidth={labelWidth}
      note={here === null ? "–" : figureText(kind, here)}
      fault={here !== null && Math.abs(here) > FIGURE_LIMITS[kind]}
      height={height}
    >
      <Curve title={title} kind={kind} figures={figures} axis={axis} height={height - 1} />
    </Row>
  );
}

function Curve({ title, kind, figures, axis, height }: Omit<Props, "labelWidth"> & { kind: FigureKind }) {
  const editor = useEditor();
  const values = figures[kind];
  const limit = FIGURE_LIMITS[kind];
  const most = Math.max(1.6 * limit, ...values.map((v) => Math.abs(v ?? 0)));
  // light goes both ways from the middle, the others rise from the foot
  const y = (v: number) => (kind === "light" ? height / 2 - (v / most) * (height / 2 - 4) : height - 4 - (v / most) * (height - 8));
  const middle = (k: number) => axis.x(figures.from + k) + axis.per / 2;
  const bars = values.flatMap((v, k) => (v !== null && Math.abs(v) > limit ? [k] : []));
  const line = values.map((v, k) => (v === null ? "" : `${k > 0 && values[k - 1] !== null ? "L" : "M"}${middle(k).toFixed(1)} ${y(v).toFixed(1)}`)).join(""); // prettier-ignore
  return (
    <svg
      width="100%"
      height={height}
      className="block cursor-pointer"
      role="img"
      aria-label={`${FIGURE_WORDS[kind]} of ${title}, frame by frame`}
      data-testid="figure-curve"
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.stopPropagation();
        editor.transport.goTo(axis.frameAt(e.clientX - e.currentTarget.getBoundingClientRect().left));
      }}
    >
      {bars.map((k) => (
        <rect key={k} x={axis.x(figures.from + k)} width={axis.per} y="0" height={height} fill="var(--color-brick)" fillOpacity="0.22" />
      ))}
      {(kind === "light" ? [limit, -limit] : [limit]).map((v) => (
        <line key={v} x1="0" x2="100%" y1={y(v)} y2={y(v)} stroke="var(--color-brick)" strokeOpacity="0.7" strokeDasharray="3 3" />
      ))}
      <path d={line} fill="none" stroke="var(--color-bone)" strokeWidth="1.4" />
    </svg>
  );
}
