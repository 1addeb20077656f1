"use client";
import { takeOf } from "@/client/bench/state";
import { useBenchState } from "../bench/context";
import { Measured } from "./Measured";
import { Section } from "./Section";
import { ShotSection } from "./ShotSection";

/** What is known about the take. */
export function ScoutCard() {
  const take = useBenchState(takeOf);
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
    ["Sound", info.sound ? `${info.sound.codec}, ${info.sound.channels} channels, ${info.sound.rate} Hz` : "none"],
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
