"use client";
import { takeOf } from "@/client/editor/state/select";
import { useEditorState } from "../editor/context";
import { Measured } from "./Measured";
import { toast } from "sonner";
import { turnTake } from "@/client/api";
import { type Take, turnOf } from "@/wire/take";
import { Section } from "./Section";
import { ShotSection } from "./ShotSection";

const channels = (n: number) => (n === 1 ? "mono" : n === 2 ? "stereo" : `${n} channels`);

/** What is known about the take. */
export function ScoutCard() {
  const take = useEditorState(takeOf);
  const info = take.info!;
  const seconds = info.seconds ?? (info.frames * info.rate[1]) / info.rate[0];
  const rows: [string, string][] = [
    ["File", take.name],
    ["Size", `${info.width} × ${info.height}`],
    [
      "Rate",
      info.variableRate
        ? `varies, about ${(info.frames / seconds).toFixed(2)} frames a second`
        : `${Number((info.rate[0] / info.rate[1]).toFixed(3))} frames a second`,
    ],
    ["Length", `${info.frames} frames, ${seconds.toFixed(2)} s`],
    ["Codec", info.codec],
    ["Samples", info.pixelFormat],
    ["Colour", `${info.colour.matrix.replace("bt", "BT.")}, ${info.colour.range} range${info.tags.matrix ? "" : " (assumed)"}`],
    ["Timecode", info.timecode ?? "none"],
    ["Sound", info.sound ? `${info.sound.codec}, ${channels(info.sound.channels)}, ${info.sound.rate} Hz` : "none"],
  ];
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">The take</h2>
      </div>
      <Measured />
      <ShotSection />
      <Section title="What is known">
        <dl className="grid grid-cols-[84px_1fr] gap-x-2 gap-y-1.5">
          {rows.map(([k, v]) => (
            <div key={k} className="contents">
              <dt className="text-dim">{k}</dt>
              <dd className="break-words">{v}</dd>
            </div>
          ))}
        </dl>
      </Section>
      <Section title="How it stands">
        <Turn take={take} />
      </Section>
      {info.notes.length > 0 && (
        <Section title="Worth knowing">
          <ul className="space-y-1">
            {info.notes.map((n) => (
              <li key={n}>{n}</li>
            ))}
          </ul>
        </Section>
      )}
    </>
  );
}

const TURNS = { 0: "as it was recorded", 90: "a quarter to the right", 180: "upside down", 270: "a quarter to the left" } as const;

/** How the take is turned upright: by its own flag, or by hand where that is missing or wrong. Its samples are never turned. */
function Turn({ take }: { take: Take }) {
  const info = take.info!;
  const flag = info.tags.rotation;
  return (
    <>
      <select
        aria-label="How the take is turned"
        className="h-7 w-full rounded-md border border-line bg-ground px-1.5"
        value={info.turned ?? "flag"}
        onChange={(e) => {
          const v = e.target.value;
          void turnTake(take.id, v === "flag" ? null : (Number(v) as keyof typeof TURNS)).catch((x: unknown) =>
            toast.error(x instanceof Error ? x.message : String(x)),
          );
        }}
      >
        <option value="flag">{flag ? `by its flag: turned by ${flag}°` : "as it was recorded"}</option>
        {([0, 90, 180, 270] as const)
          .filter((v) => flag || v)
          .map((v) => (
            <option key={v} value={v}>
              {TURNS[v]}
            </option>
          ))}
      </select>
      {turnOf(info) !== 0 && <p className="mt-1.5 text-dim">Shown turned, and its renders are flagged so; the samples lie as they were recorded.</p>}
    </>
  );
}
