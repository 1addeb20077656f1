"use client";
import Link from "next/link";
import type { ShotSummary } from "@/wire/shot";
import type { Take } from "@/wire/take";
import { QuickPicture } from "../parts/QuickPicture";
import { NoteLine } from "./NoteLine";

/** Frames a second; of a take whose rate varies, how many it has on the whole. */
const rateOf = ({ info }: Take) =>
  !info
    ? ""
    : info.variableRate && info.seconds
      ? `${(info.frames / info.seconds).toFixed(2)} fps, varies`
      : `${Number((info.rate[0] / info.rate[1]).toFixed(3))} fps`;

/** What is done about a shot, in words. */
function state(shot: ShotSummary): string {
  if (shot.broken) return "Damaged";
  if (shot.renders) return shot.renderedRev === shot.rev ? "Rendered" : "Changed since it was rendered";
  if (shot.layers) return `${shot.layers} ${shot.layers === 1 ? "patch" : "patches"}`;
  return "Not begun";
}

/** A shot as a picture, or a take that is still being read. */
export function ShotPicture({
  take,
  shot,
  onRemove,
  onPlace,
}: {
  take: Take;
  shot: ShotSummary | null;
  onRemove: () => void;
  /** Shows where a moved original is now. */
  onPlace: () => void;
}) {
  const { info } = take;
  const picture = (
    <div className="relative aspect-video overflow-hidden rounded-md border border-line bg-black group-hover:border-dim">
      {take.quick > 0 && (
        <QuickPicture
          take={take}
          frame={Math.min(take.quick - 1, shot ? Math.floor((shot.in + shot.out + 1) / 2) : 0)}
          fit="contain"
          className="h-full w-full"
        />
      )}
      {take.state === "reading" && (
        <div className="absolute inset-x-0 bottom-0 bg-[#1a1613cc] px-3 py-2">
          <p>
            Being read <span className="num text-dim">{take.quick} frames so far</span>
          </p>
        </div>
      )}
    </div>
  );
  const name = shot?.name ?? take.name;
  const text = (
    <div className="mt-2">
      <div className="flex items-baseline justify-between gap-3">
        <p className="min-w-0 truncate text-[15px]">{name}</p>
        {shot && <span className={`shrink-0 ${shot.layers ? "text-bone" : "text-dim"}`}>{state(shot)}</span>}
      </div>
      {shot?.broken && <p className="text-[12px] text-brick">{shot.broken}</p>}
      {info && !shot?.broken && (
        <p className="num truncate text-[12px] text-dim">
          {info.width}×{info.height} · {rateOf(take)} · {shot ? shot.out - shot.in + 1 : info.frames} frames{info.sound ? " · sound" : ""}
        </p>
      )}
    </div>
  );
  return (
    <li>
      {shot ? (
        <Link href={`/shots/${shot.id}`} className="group block rounded-md" aria-label={`Open ${name}`}>
          {picture}
          {text}
        </Link>
      ) : (
        <div className="group">
          {picture}
          {text}
        </div>
      )}
      <div className="mt-0.5 flex items-start justify-between gap-3 text-[13px]">
        <NoteLine take={take} name={name} />
        <button type="button" className="shrink-0 text-[12px] text-dim hover:text-bone" aria-label={`Remove ${name}`} onClick={onRemove}>
          Remove
        </button>
      </div>
      {take.trouble && (
        <p role="status" className="mt-1 text-[12px] text-brick">
          {take.trouble}{" "}
          {take.trouble.includes("is not where it was") && (
            <button type="button" className="text-ochre hover:underline" onClick={onPlace}>
              Show where it is now
            </button>
          )}
        </p>
      )}
    </li>
  );
}
