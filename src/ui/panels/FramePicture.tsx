"use client";
import clsx from "clsx";
import { quickUrl } from "@/client/api";
import { Upright } from "../parts/QuickPicture";
import { quarter } from "../viewer/zoom";
import type { Take } from "@/wire/take";

interface Props {
  take: Take;
  frame: number;
  /** The part of the picture that is shown, in its pixels; without it all of it. */
  box?: { x0: number; y0: number; x1: number; y1: number };
  className?: string;
}

/** A frame as a small picture, or the part of it that matters. */
export function FramePicture({ take, frame, box, className }: Props) {
  const { width, height } = take.info!;
  const b = box ?? { x0: 0, y0: 0, x1: width, y1: height };
  // a little of the surroundings, and the shape of a picture
  const cx = (b.x0 + b.x1) / 2;
  const cy = (b.y0 + b.y1) / 2;
  const shape = take.info && quarter(take.info) % 180 ? 9 / 16 : 16 / 9;
  const w = Math.min(width, Math.max(1.3 * (b.x1 - b.x0), 1.3 * (b.y1 - b.y0) * shape, width / 6));
  const h = Math.min(height, w / shape);
  const x = Math.min(width - w, Math.max(0, cx - w / 2));
  const y = Math.min(height - h, Math.max(0, cy - h / 2));
  return (
    <Upright take={take} className={clsx("aspect-video rounded bg-black", className)}>
      <img
        src={quickUrl(take.id, frame)}
        alt=""
        draggable={false}
        className="absolute max-w-none"
        style={{ width: `${(100 * width) / w}%`, left: `${(-100 * x) / w}%`, top: `${(-100 * y) / h}%` }}
      />
    </Upright>
  );
}
