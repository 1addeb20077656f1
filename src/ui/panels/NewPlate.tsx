"use client";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { fetchState } from "@/client/api";
import { takeOf } from "@/client/editor/state/select";
import type { BuiltFrom } from "@/core/document/plate";
import { useEditor, useEditorPick } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { Button } from "../parts/Button";
import { NumberField } from "../parts/NumberField";
import { Pair } from "./FrameFields";
import { Section } from "./Section";

/** Ways to a clean picture. */
export function NewPlate() {
  const { show } = useCounting();
  const editor = useEditor();
  const s = useEditorPick("recipe", "frame", "task", "shot");
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">A clean picture</h2>
      </div>
      <Section title="Hold one frame">
        <p className="mb-2 text-dim">The last clean frame before the thing comes in, or the first after it has gone.</p>
        <Button tone="main" className="w-full" onClick={editor.plates.makePlate}>
          Hold frame {show(s.frame)}
        </Button>
      </Section>
      <FromMany />
      <FromTake />
      <Section title="A picture from elsewhere">
        <p className="mb-2 text-dim">PNG, TIFF or JPEG, with 8 or 16 bits, with or without alpha.</p>
        <input
          ref={file}
          type="file"
          accept=".png,.tif,.tiff,.jpg,.jpeg"
          aria-label="A picture as plate"
          className="sr-only"
          onChange={(e) => {
            const f = e.target.files?.[0];
            e.target.value = "";
            if (f) void editor.plates.fromPicture(f);
          }}
        />
        <Button className="w-full" disabled={!!s.task} onClick={() => file.current?.click()}>
          Bring in a picture
        </Button>
      </Section>
      <Section title="A plain colour">
        <PlainColour />
      </Section>
    </>
  );
}

/** Builds a plate from a stretch of frames. */
function FromMany() {
  const { show } = useCounting();
  const editor = useEditor();
  const s = useEditorPick("recipe", "frame", "task");
  const { in: a, out: b } = s.recipe.shot;
  const [stretch, setStretch] = useState<[number, number]>([a, b]);
  const [skip, setSkip] = useState("");
  const [average, setAverage] = useState(false);
  const left = parseSkip(skip);
  const outlines = s.recipe.intruders.filter((i) => i.seen?.measured?.never);
  const build = () => {
    const built: BuiltFrom = {
      in: stretch[0],
      out: stretch[1],
      at: Math.min(stretch[1], Math.max(stretch[0], s.frame)),
      ...(left?.length ? { skip: left } : {}),
      ...(outlines.length ? { keepOut: outlines.map((i) => ({ outline: i.seen!.outline })) } : {}),
      ...(average ? { average } : {}),
    };
    void editor.plates.buildFromMany(built);
  };
  return (
    <Section title="Build from many frames">
      <p className="mb-1.5 text-dim">Each area comes from a frame in which it was clean; what never was is listed.</p>
      <Pair
        frames
        label="First, last"
        a={{ label: "First frame to look at", value: stretch[0], min: a, max: stretch[1], onCommit: (v) => setStretch([v, stretch[1]]) }}
        b={{ label: "Last frame to look at", value: stretch[1], min: stretch[0], max: b, onCommit: (v) => setStretch([stretch[0], v]) }}
      />
      <label className="flex h-8 items-center gap-2">
        <span className="w-[84px] shrink-0 text-dim">Leave out</span>
        <input
          className={`num h-7 w-[118px] rounded-md border bg-ground px-2 outline-none focus:border-ochre ${left === null ? "border-brick" : "border-line"}`}
          value={skip}
          placeholder="30-41, 60"
          onChange={(e) => setSkip(e.target.value)}
          onKeyDown={(e) => e.stopPropagation()}
          spellCheck={false}
        />
      </label>
      <label className="flex h-8 items-center gap-2">
        <span className="w-[84px] shrink-0 text-dim">Averaged</span>
        <input type="checkbox" className="h-4 w-4 accent-ochre" checked={average} onChange={(e) => setAverage(e.target.checked)} />
        <span className="text-dim">takes the grain out</span>
      </label>
      {outlines.length > 0 && (
        <p className="mb-1.5 text-dim">Nothing is taken from within the outline of {outlines.map((i) => i.name).join(", ")}.</p>
      )}
      <Button className="mt-1 w-full" disabled={!!s.task || left === null} onClick={build}>
        Build in the light of frame {show(Math.min(stretch[1], Math.max(stretch[0], s.frame)))}
      </Button>
    </Section>
  );
}

/** “30-41, 60” as stretches; null when it is not that. */
export function parseSkip(text: string): [number, number][] | null {
  const out: [number, number][] = [];
  for (const part of text
    .split(",")
    .map((p) => p.trim())
    .filter(Boolean)) {
    const m = /^(\d+)(?:\s*[-–]\s*(\d+))?$/.exec(part);
    if (!m) return null;
    const [x, y] = [Number(m[1]), Number(m[2] ?? m[1])];
    if (x > y) return null;
    out.push([x, y]);
  }
  return out;
}

/** Another take of the production as the clean picture. */
function FromTake() {
  const { show } = useCounting();
  const editor = useEditor();
  const s = useEditorPick("recipe", "shot", "task", "frame");
  const state = useQuery({ queryKey: ["state"], queryFn: fetchState });
  const mine = takeOf(s);
  const others = (state.data?.productions.find((p) => p.id === s.shot.production.id)?.takes ?? []).filter(
    (t) => t.id !== mine.id && t.state === "ready" && t.info?.width === mine.info!.width && t.info.height === mine.info!.height,
  );
  const [chosen, setChosen] = useState("");
  const [frame, setFrame] = useState(0);
  const take = others.find((t) => t.id === chosen) ?? others[0];
  return (
    <Section title="Another take">
      {!take && <p className="text-dim">No other take of this production has the shot’s size. Drop one on the page of productions.</p>}
      {take && (
        <>
          <label className="flex h-8 items-center gap-2">
            <span className="w-[84px] shrink-0 text-dim">Take</span>
            <select
              aria-label="Other take"
              className="h-7 w-[118px] min-w-0 flex-1 rounded-md border border-line bg-ground px-1"
              value={take.id}
              onChange={(e) => setChosen(e.target.value)}
            >
              {others.map((t) => (
                <option key={t.id} value={t.id}>
                  {t.name.replace(/\.[^.]+$/, "")}
                </option>
              ))}
            </select>
          </label>
          <NumberField
            label="Its frame"
            value={Math.min(frame, take.info!.frames - 1)}
            min={0}
            max={take.info!.frames - 1}
            onDrag={setFrame}
            onCommit={setFrame}
          />
          <Button
            className="mt-1 w-full"
            disabled={!!s.task}
            onClick={() => void editor.plates.fromTake(take, Math.min(frame, take.info!.frames - 1))}
          >
            Align with frame {show(s.frame)}
          </Button>
        </>
      )}
    </Section>
  );
}

/** The colour from around an intruder's outline. */
function PlainColour() {
  const editor = useEditor();
  const intruders = useEditorPick("recipe").recipe.intruders.filter((i) => i.seen);
  if (!intruders.length)
    return <p className="text-dim">Outline the thing in Scout first; the colour is taken from around it, sloping if the surroundings do.</p>;
  return (
    <div className="space-y-2">
      {intruders.map((i) => (
        <Button
          key={i.id}
          className="w-full"
          onClick={() =>
            void editor.plates.plainColour(
              i.seen!.outline.map((p) => [...p]),
              i.seen!.at,
            )
          }
        >
          From around {i.name}
        </Button>
      ))}
    </div>
  );
}
