import clsx from "clsx";
import type { ReactNode } from "react";
import { quickUrl } from "@/client/api";
import type { Take } from "@/wire/take";
import { quarter } from "../viewer/zoom";

/** A box whose inside is laid out as it was recorded, and shown turned as the take is. */
export function Upright({ take, className, children }: { take: Take; className?: string; children: ReactNode }) {
  const turn = take.info ? quarter(take.info) : 0;
  if (!turn) return <span className={clsx("relative block overflow-hidden", className)}>{children}</span>;
  const [width, height] = turn % 180 ? ["100cqh", "100cqw"] : ["100cqw", "100cqh"];
  return (
    <span className={clsx("relative block overflow-hidden", className)} style={{ containerType: "size" }}>
      <span className="absolute top-1/2 left-1/2 block" style={{ width, height, transform: `translate(-50%, -50%) rotate(${turn}deg)` }}>
        {children}
      </span>
    </span>
  );
}

/** A quick frame of a take, upright. */
export const QuickPicture = ({ take, frame, fit, className }: { take: Take; frame: number; fit: "cover" | "contain"; className?: string }) => (
  <Upright take={take} className={className}>
    <img
      src={quickUrl(take.id, frame)}
      alt=""
      draggable={false}
      className={clsx("pointer-events-none h-full w-full", fit === "cover" ? "object-cover" : "object-contain")}
    />
  </Upright>
);
