"use client";
import { CategoryScale, Chart, LineController, LineElement, LinearScale, PointElement } from "chart.js";
import { useEffect, useRef } from "react";

Chart.register(LineController, LineElement, PointElement, LinearScale, CategoryScale);

/** The colour of what a chart is about, and of what stands beside it. */
export const OCHRE = "#dfae57";
export const DUSK = "#7d93b8";
export const BONE = "#efe7da";

export interface Curve {
  name: string;
  values: number[];
  colour: string;
  dashed?: boolean;
}

interface Props {
  label: string;
  curves: Curve[];
  /** The first value's frame. */
  first: number;
  /** The frame that is shown; a click on the chart goes to one. */
  frame: number;
  goTo: (n: number) => void;
  /** Range that is shown at least, so that noise does not fill the chart. */
  least: number;
  digits: number;
}

/** Measured values over time, drawn with the playhead. */
export function CurveChart({ label, curves, first, frame, goTo, least, digits }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart | null>(null);
  useEffect(() => {
    const all = curves.flatMap((c) => c.values);
    const [low, high] = [Math.min(...all), Math.max(...all)];
    const room = Math.max(least, high - low) * 0.6;
    const middle = (low + high) / 2;
    const c = new Chart(canvas.current!, {
      type: "line",
      data: {
        labels: curves[0].values.map((_, i) => String(first + i)),
        datasets: curves.map((k) => ({
          label: k.name,
          data: k.values,
          borderColor: k.colour,
          borderWidth: 1.5,
          borderDash: k.dashed ? [4, 3] : [],
          pointRadius: 0,
        })),
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        events: [],
        scales: {
          x: {
            ticks: { color: "#b5a893", maxTicksLimit: 4, maxRotation: 0, font: { size: 11 } },
            grid: { display: false },
            border: { color: "#453b31" },
          },
          y: {
            min: middle - room,
            max: middle + room,
            ticks: { color: "#b5a893", maxTicksLimit: 4, font: { size: 11 }, callback: (v) => Number(v).toFixed(digits) },
            grid: { color: "#2f2822" },
            border: { display: false },
          },
        },
      },
    });
    chart.current = c;
    return () => {
      c.destroy();
      chart.current = null;
    };
  }, [curves, first, least, digits]);
  const count = curves[0].values.length;
  return (
    <figure className="mt-1.5">
      <div
        className="relative h-[84px] cursor-pointer"
        onClick={(e) => {
          const area = chart.current?.chartArea;
          if (!area) return;
          const x = e.clientX - e.currentTarget.getBoundingClientRect().left;
          goTo(first + Math.round(((x - area.left) / (area.right - area.left)) * (count - 1)));
        }}
      >
        <canvas
          ref={canvas}
          role="img"
          aria-label={`${label}: ${curves.map((c) => `${c.name} from ${Math.min(...c.values).toFixed(digits)} to ${Math.max(...c.values).toFixed(digits)}`).join("; ")}`}
        />
        <Playhead chart={chart} share={count > 1 ? (frame - first) / (count - 1) : 0} />
      </div>
      {curves.length > 1 && (
        <figcaption className="flex gap-3 text-[12px] text-dim">
          {curves.map((c) => (
            <span key={c.name} className="flex items-center gap-1.5">
              <span aria-hidden className="w-4 border-t-2" style={{ borderColor: c.colour, borderStyle: c.dashed ? "dashed" : "solid" }} />
              {c.name}
            </span>
          ))}
        </figcaption>
      )}
    </figure>
  );
}

function Playhead({ chart, share }: { chart: React.RefObject<Chart | null>; share: number }) {
  const line = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const area = chart.current?.chartArea;
    if (!area || !line.current) return;
    line.current.style.left = `${area.left + share * (area.right - area.left)}px`;
    line.current.style.top = `${area.top}px`;
    line.current.style.height = `${area.bottom - area.top}px`;
  });
  return <span ref={line} aria-hidden className="pointer-events-none absolute w-px bg-ochre" />;
}
