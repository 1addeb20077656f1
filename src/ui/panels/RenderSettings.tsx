"use client";
import { type ReactNode, useState } from "react";
import { useStore } from "zustand";
import { startRender } from "@/client/api";
import { preferences } from "@/client/preferences";
import { takeOf } from "@/client/editor/state/select";
import { mendedStretch, outputOf } from "@/core/document/recipe";
import { cannotCarry, type Codec, CODECS, FORMATS, isStills } from "@/wire/formats";
import type { RenderRequest } from "@/wire/job";
import { useEditorState } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { Button } from "../parts/Button";
import { NumberField } from "../parts/NumberField";
import { Section } from "./Section";

type What = RenderRequest["what"];

const WHATS: Record<What, string> = { result: "Mended picture", patch: "Patches alone", matte: "Matte alone", review: "Before and after" };
const ALONE: Record<Exclude<What, "result">, string> = {
  patch: "All patches together over nothing, with straight alpha.",
  matte: "The patches' α, as grey and as alpha.",
  review: "Original and mended side by side, with frame numbers burnt in: for others to look at.",
};
/** Whether it is written with transparency. */
const alone = (w: What) => w === "patch" || w === "matte";
const NAMES = Object.fromEntries(CODECS.map((c) => [c, FORMATS[c].name])) as Record<Codec, string>;

/** What is to be written: picture, codec, frames. */
export function RenderSettings({ run }: { run: (f: () => Promise<unknown>) => Promise<void> }) {
  const s = useEditorState((x) => x);
  const { show } = useCounting();
  const [what, setWhat] = useState<What>("result");
  const [codec, setCodec] = useState<Codec>("h264");
  const [crf, setCrf] = useState(18);
  const [part, setPart] = useState(false);
  const [handles, setHandles] = useState(12);
  const [convert, setConvert] = useState(false);
  const [inLook, setInLook] = useState(false);
  const look = useStore(preferences, (p) => p.looks[s.shot.production.id]);
  const stretch = mendedStretch(s.recipe, handles);
  const range = part ? stretch : outputOf(s.recipe);
  const chooseWhat = (v: What) => {
    setWhat(v);
    if (alone(v) && !isStills(codec)) setCodec("png");
    if (v === "review" && isStills(codec)) setCodec("h264");
  };
  const { format } = takeOf(s).info!;
  const lost = isStills(codec) ? null : cannotCarry(codec, takeOf(s).info!);
  const rare = [format.model === "yuv" && !format.subY ? (format.subX ? "4:2:2" : "4:4:4") : "", format.bits > 8 ? `${format.bits} bits` : ""]
    .filter(Boolean)
    .join(" and ");
  const wish = {
    codec,
    crf,
    preset: "medium" as const,
    what,
    convert,
    handles: part ? handles : undefined,
    ...(look && inLook && !isStills(codec) ? { look: { data: look.data, strength: look.strength } } : {}),
  };
  return (
    <Section title="What is written">
      <Pick name="Picture" value={what} options={WHATS} onChange={chooseWhat} />
      <Pick
        name="Codec"
        value={codec}
        options={NAMES}
        onChange={setCodec}
        not={(c) => (alone(what) ? !isStills(c) : what === "review" && isStills(c))}
      />
      <Pick
        name="Frames"
        value={part ? "part" : "whole"}
        options={{ whole: "Whole shot", part: "Mended, with handles" }}
        onChange={(v) => setPart(v === "part")}
      />
      {part && <NumberField label="Handles" unit="fr" value={handles} min={0} max={1000} reset={12} onDrag={setHandles} onCommit={setHandles} />}
      {codec === "h264" && <NumberField label="CRF" value={crf} min={0} max={51} reset={18} onDrag={setCrf} onCommit={setCrf} />}
      {lost && (
        <label className="mt-1 flex items-start gap-2">
          <input type="checkbox" className="mt-0.5 h-4 w-4 shrink-0 accent-ochre" checked={convert} onChange={(e) => setConvert(e.target.checked)} />
          <span>
            Convert the samples: <span className="text-dim">{lost}.</span>
          </span>
        </label>
      )}
      {look && !isStills(codec) && (
        <label className="mt-1 flex items-start gap-2">
          <input type="checkbox" className="mt-0.5 h-4 w-4 shrink-0 accent-ochre" checked={inLook} onChange={(e) => setInLook(e.target.checked)} />
          <span>
            In the look “{look.name}” <span className="text-dim">at {Math.round(100 * look.strength)} %; else nothing of it is written.</span>
          </span>
        </label>
      )}
      <p className="my-2 text-dim">
        {what !== "result" && `${ALONE[what]} `}
        {FORMATS[codec].about} <span className="num">{range ? `Frames ${show(range.in)}–${show(range.out)}.` : "Nothing is mended yet."}</span>
      </p>
      {codec === "h264" && rare && (
        <p className="mb-2 text-dim">
          H.264 with {rare} is what this take has and keeps: editing programs open it, most browsers, phones and televisions do not.
        </p>
      )}
      <Button tone="main" className="w-full" disabled={s.saved.waiting > 0 || !range} onClick={() => void run(() => startRender(s.shot.id, wish))}>
        Render
      </Button>
      {s.saved.waiting > 0 && <p className="mt-1 text-dim">The last edit is being stored; a moment.</p>}
    </Section>
  );
}

function Pick<T extends string>(p: {
  name: string;
  value: T;
  options: Record<T, string>;
  onChange: (v: T) => void;
  not?: (v: T) => boolean;
}): ReactNode {
  return (
    <label className="flex h-8 items-center gap-2">
      <span className="w-[84px] shrink-0 text-dim">{p.name}</span>
      <select
        className="h-7 min-w-0 flex-1 rounded-md border border-line bg-ground px-1.5"
        value={p.value}
        onChange={(e) => p.onChange(e.target.value as T)}
      >
        {(Object.entries(p.options) as [T, string][]).map(([v, label]) => (
          <option key={v} value={v} disabled={p.not?.(v)}>
            {label}
          </option>
        ))}
      </select>
    </label>
  );
}
