"use client";
import { RotateCcw, Search } from "lucide-react";
import { useEffect } from "react";
import { takeOf } from "@/client/editor/state/select";
import { seenFrames } from "@/core/document/recipe";
import { CLEAN, MOVING, NEARLY } from "@/core/survey/advice";
import { useEditor, useEditorPick } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { Button, IconButton } from "../parts/Button";
import { FramePicture } from "./FramePicture";
import { FrameField } from "./FrameFields";
import { ReframeOffer } from "./ReframeOffer";
import { Section } from "./Section";
import { Warnings, WaysSection } from "./WaysSection";
import { intruderById } from "@/recipe/query";

/** An intruder: where and when it is seen, and the cleanest frames for its place. */
export function SeenCard({ id }: { id: string }) {
  const editor = useEditor();
  const s = useEditorPick("recipe", "found", "task", "shot", "frame");
  const { show } = useCounting();
  const intruder = intruderById(s.recipe, id);
  const outlined = !!intruder?.seen;
  useEffect(() => {
    void editor.scout.recall(id);
  }, [editor, id, outlined]);
  if (!intruder) return null;
  const { seen } = intruder;
  const band = seenFrames(intruder);
  const found = s.found[id];
  const take = takeOf(s);
  const { in: first, out: last } = s.recipe.shot;
  const field = (which: "in" | "out" | "worst", label: string, value: number) => (
    <div className="flex min-w-0 items-center">
      <FrameField
        label={label}
        value={value}
        min={first}
        max={last}
        onDrag={(v) => editor.scout.setSeen(id, which, v, true)}
        onCommit={(v) => editor.scout.setSeen(id, which, v)}
      />
      {seen?.[which] !== undefined ? (
        <IconButton
          name={`Back to what was measured: ${seen.measured ? show(seen.measured[which]) : "nothing yet"}`}
          side="left"
          onClick={() => editor.scout.setSeen(id, which, null)}
        >
          <RotateCcw size={13} />
        </IconButton>
      ) : (
        <span className="pl-1 text-[11px] text-dim" title="As it was measured">
          found
        </span>
      )}
    </div>
  );
  const sides = (["before", "after"] as const).map((side) => [side, found?.clean.filter((c) => c.side === side) ?? []] as const);
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">{intruder.name}</h2>
      </div>
      <Section title="Where it is seen">
        {!seen && <p className="text-dim">Not outlined yet: in Scout, drag once round it on any frame.</p>}
        {seen && !band && <p className="text-dim">{s.task ? "Being looked for …" : "Not measured yet."}</p>}
        {band && !found?.rides && seen?.measured?.never && seen.in === undefined && seen.out === undefined && (
          <p className="mb-1">
            <strong>It never leaves:</strong> no frame of this shot shows what is behind it. Take the clean picture from another take, or retouch one
            frame.
          </p>
        )}
        {band && (
          <>
            {field("in", "First frame", band.in)}
            {field("out", "Last frame", band.out)}
            {field("worst", "Worst frame", band.worst)}
            <div className="mt-1.5 flex gap-1.5">
              {[
                ["First", band.in],
                ["Worst", band.worst],
                ["Last", band.out],
              ].map(([k, n]) => (
                <Button key={k} className="h-6 flex-1 px-1 text-[12px]" title="Go there" onClick={() => editor.transport.goTo(n as number)}>
                  {k} <span className="num text-dim">{show(n as number)}</span>
                </Button>
              ))}
            </div>
          </>
        )}
        {found && !found.never && (
          <p className="mt-2 text-dim">
            {found.moves > MOVING ? `It moves, by up to ${Math.round(found.moves)} px. ` : "It stays in its place. "}
            What was found of it is drawn thin on each frame; a patch covers the inside of the loop only.
          </p>
        )}
        {found?.whole && (
          <Button
            className="mt-2 w-full"
            title={`What hangs together with it on frame ${show(seen!.at)} and moves along, such as a pole or a shadow, goes on beyond the loop`}
            disabled={!!s.task}
            onClick={() => void editor.scout.takeIn(id)}
          >
            Draw the loop round all of it
          </Button>
        )}
        {found && <Warnings found={found} />}
        {found?.rides && (
          <>
            <p className="mt-2">
              <strong>It moves with what it sits on</strong>, by up to {found.rides.by.toFixed(1)} px within frames {show(found.rides.in)}–
              {show(found.rides.out)}.
            </p>
            <Button tone="main" className="mt-2 w-full" disabled={!!s.task} onClick={() => void editor.carrying.carry(id)}>
              Follow what it sits on
            </Button>
          </>
        )}
        {seen && (
          <Button tone={found?.rides ? undefined : "main"} className="mt-2 w-full" onClick={() => void editor.patches.cover(id)}>
            Cover it with a patch
          </Button>
        )}
        <Button className="mt-2 w-full" onClick={editor.mode.paintFrames}>
          Paint on its frames <kbd className="num text-ochre">B</kbd>
        </Button>
        {seen && (
          <Button className="mt-2 w-full" disabled={!!s.task} onClick={() => void editor.scout.measure(id)}>
            <Search size={14} /> Measure again
          </Button>
        )}
      </Section>
      {found && !found.never && (
        <Section title="Cleanest frames for its place">
          {found.clean.length === 0 && <p className="text-dim">None: build a plate from many frames, or take it from another take.</p>}
          {found.clean.length > 0 && found.clean[0].off > 3 && (
            <p className="mb-2">No frame is clean all over its path: build a plate from many frames, in Plate.</p>
          )}
          {sides.map(([side, list]) =>
            list.length ? (
              <div key={side} className="mb-2 last:mb-0">
                <h4 className="mb-1 text-[12px] text-dim">{side === "before" ? "Before it comes" : "After it has gone"}</h4>
                <ul className="grid grid-cols-3 gap-1.5">
                  {list.map((c) => (
                    <li key={c.frame}>
                      <button
                        type="button"
                        aria-label={`Hold frame ${show(c.frame)} as a plate`}
                        className={`block w-full rounded-md border p-0.5 text-left ${s.frame === c.frame ? "border-ochre" : "border-line hover:border-dim"}`}
                        onClick={() => {
                          editor.transport.goTo(c.frame);
                          editor.plates.holdFrame(c.frame);
                          editor.selection.select({ kind: "intruder", intruder: id });
                        }}
                      >
                        <FramePicture take={take} frame={c.frame} box={found.box} />
                        <span className="num flex justify-between px-0.5 text-[12px]">
                          {show(c.frame)}
                          <span className="text-dim">{c.off < CLEAN ? "clean" : c.off < NEARLY ? "nearly" : "in part"}</span>
                        </span>
                      </button>
                    </li>
                  ))}
                </ul>
              </div>
            ) : null,
          )}
        </Section>
      )}
      {found && <WaysSection found={found} />}
      <ReframeOffer key={id} intruder={intruder} />
    </>
  );
}
