"use client";
import { quickUrl } from "@/client/api";
import { Upright } from "../parts/QuickPicture";
import { quarter, stageSize } from "../viewer/zoom";
import type { Take } from "@/wire/take";

/** A small picture of the thing itself: the frame, cut to what the mask reaches. */
export function ThingPicture({ take, frame, polygons }: { take: Take; frame: number; polygons: Float64Array[] }) {
  const { info } = take;
  if (!info) return null;
  const [wide, high] = [62, 40];
  const { w, h } = stageSize({ quarter: quarter(info), aspect: 1 }, wide, high);
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const p of polygons)
    for (let i = 0; i < p.length; i += 2) {
      x0 = Math.min(x0, p[i]);
      x1 = Math.max(x1, p[i]);
      y0 = Math.min(y0, p[i + 1]);
      y1 = Math.max(y1, p[i + 1]);
    }
  if (x1 < x0) [x0, y0, x1, y1] = [0, 0, info.width, info.height];
  const scale = Math.min(w / Math.max(24, x1 - x0), h / Math.max(24, y1 - y0));
  return (
    <span aria-hidden className="block shrink-0 overflow-hidden rounded border border-line bg-black" style={{ width: wide, height: high }}>
      <Upright take={take} className="h-full">
        <img
          src={quickUrl(take.id, frame)}
          alt=""
          className="absolute max-w-none"
          style={{
            width: info.width * scale,
            height: info.height * scale,
            left: w / 2 - ((x0 + x1) / 2) * scale,
            top: h / 2 - ((y0 + y1) / 2) * scale,
          }}
        />
      </Upright>
    </span>
  );
}
