"use client";
import clsx from "clsx";
import { Columns2, Contrast, Maximize2, PanelsTopLeft, Pause, Play, Repeat, SquareSplitHorizontal } from "lucide-react";
import { useLayoutEffect, useRef, useState } from "react";
import { create, useStore } from "zustand";
import type { Against } from "@/client/editor/state/view";
import { takeOf } from "@/client/editor/state/select";
import { prefer } from "@/client/preferences";
import type { CommandId } from "@/client/editor/commands";
import { useEditor, useEditorPick } from "../editor/context";
import { togglePanes } from "../editor/folding";
import { useCounting, useKeyShown } from "../editor/usePreferences";
import { Tip } from "../parts/Tip";
import { SeenThrough } from "./SeenThrough";
import { viewportOf, viewerSize } from "./zoom";
import { openPlate } from "@/client/editor/state/mode";

/** The value under the pointer; apart from the editor's state, since it changes with every move. */
export const usePointer = create<{ text: string }>(() => ({ text: "" }));

/** One quiet line: playing, frame, timecode, exact or quick, zoom, value under the pointer, looks against the original. */
export function StatusLine() {
  const editor = useEditor();
  const s = useEditorPick("shot", "recipe", "frame", "shown", "behind", "zoom", "playing", "dropped", "speed", "loop", "marked", "looks", "mode");
  const plate = openPlate(s);
  const pointer = usePointer((p) => p.text);
  const size = useStore(viewerSize);
  const count = useCounting();
  const take = takeOf(s);
  const { info } = take;
  if (!info) return null;
  const reading = take.state === "reading";
  const fresh = s.shown && s.shown.frame === s.frame;
  const quality = !s.shown ? "loading" : fresh ? s.shown.quality : "quick";
  const against = (what: Against) => editor.view.lookAgainst({ against: s.looks.against === what ? "off" : what });
  return (
    <div className="flex h-[28px] shrink-0 items-center gap-3 overflow-hidden border-t border-line bg-ground pr-2 pl-2 text-[12px] whitespace-nowrap">
      <Small id="play" name={s.playing ? "Stop" : "Play"} onClick={editor.transport.play}>
        {s.playing ? <Pause size={13} /> : <Play size={13} />}
      </Small>
      <Small id="loop" name={s.loop ? "Plays round and round" : "Plays once"} active={s.loop} onClick={() => editor.transport.setLoop(!s.loop)}>
        <Repeat size={13} />
      </Small>
      <span className="num flex items-center" data-testid="frame" data-now={s.frame}>
        <GoTo />
        <span className="ml-2 text-dim max-[900px]:hidden">last {count.show(s.recipe.shot.out)}</span>
      </span>
      <Tip text={count.by === "frames" ? "Count by timecode" : "Count by frame numbers"}>
        <button
          type="button"
          className="num text-dim hover:text-bone max-[900px]:hidden"
          aria-label="Frame numbers or timecode"
          onClick={() => void prefer({ counting: count.by === "frames" ? "timecode" : "frames" }).catch(() => undefined)}
        >
          {count.by === "frames" ? count.timecode(s.frame) : `frame ${s.frame + count.first}`}
        </button>
      </Tip>
      <span data-testid="quality" aria-busy={s.behind}>
        {reading && s.frame >= take.quick ? "not read yet" : quality}
      </span>
      {reading && (
        <span className="text-ochre" data-testid="reading">
          being read: {take.quick} of about {info.frames} frames
        </span>
      )}
      <span className="num text-dim" data-testid="zoom">
        {Math.round(viewportOf(s, size.w, size.h).scale * 100)} %
      </span>
      <span className="num text-dim" data-testid="pointer">
        {pointer}
      </span>
      <span className="flex-1" />
      {s.playing && (
        <span className="num text-dim" data-testid="dropped">
          {s.speed !== 1 && `× ${s.speed} · `}
          {s.dropped} dropped
        </span>
      )}
      {s.looks.against === "difference" && !plate && (
        <label className="flex items-center gap-1.5 text-dim">
          × {s.looks.gain}
          <input
            type="range"
            aria-label="How many times the difference is amplified"
            className="w-16 accent-ochre"
            min={1}
            max={32}
            value={s.looks.gain}
            onChange={(e) => editor.view.lookAgainst({ gain: Number(e.target.value) })}
          />
        </label>
      )}
      <span className="num hidden text-dim 2xl:inline">
        {info.width}×{info.height} · {Number((info.rate[0] / info.rate[1]).toFixed(3))} · {info.format.bits}-bit
      </span>
      <span className="flex" role="group" aria-label="Against the original">
        <Small
          id="wipe"
          name={plate ? "Wipe between original and mended: close the plate first" : "Wipe between original and mended"}
          disabled={!!plate}
          active={s.looks.against === "wipe"}
          onClick={() => against("wipe")}
        >
          <SquareSplitHorizontal size={13} />
        </Small>
        <Small
          id="difference"
          name={plate ? "Difference from the original: close the plate first" : "Difference from the original"}
          disabled={!!plate}
          active={s.looks.against === "difference"}
          onClick={() => against("difference")}
        >
          <Contrast size={13} />
        </Small>
        <Small
          id="beside"
          name={plate ? "Original beside the mended picture: close the plate first" : "Original beside the mended picture"}
          disabled={!!plate}
          active={s.looks.against === "beside"}
          onClick={() => against("beside")}
        >
          <Columns2 size={13} />
        </Small>
        <SeenThrough />
        <Small id="panes" name="Panes folded, or as usual" onClick={togglePanes}>
          <PanelsTopLeft size={13} />
        </Small>
        <Small id="alone" name="The picture alone on the whole screen" onClick={() => editor.view.setAlone(true)}>
          <Maximize2 size={13} />
        </Small>
      </span>
    </div>
  );
}

function Small({
  id,
  name,
  active,
  disabled,
  onClick,
  children,
}: {
  id: CommandId;
  name: string;
  active?: boolean;
  disabled?: boolean;
  onClick: () => void;
  children: React.ReactNode;
}) {
  return (
    <Tip text={name} keys={useKeyShown(id)} side="top">
      <button
        type="button"
        aria-label={name}
        aria-pressed={active}
        aria-disabled={disabled}
        onClick={() => !disabled && onClick()}
        className={clsx(
          "flex h-6 w-6 items-center justify-center rounded-md hover:text-bone",
          active ? "text-ochre" : "text-dim",
          disabled && "opacity-40",
        )}
      >
        {children}
      </button>
    </Tip>
  );
}

/** The frame shown; a number, a sum, a timecode or so many frames on can be typed. */
function GoTo() {
  const editor = useEditor();
  const { frame } = useEditorPick("frame");
  const count = useCounting();
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const shown = `frame ${count.show(frame)}`;
  const input = useRef<HTMLInputElement>(null);
  const editing = text !== null;
  useLayoutEffect(() => {
    if (editing) input.current!.select();
  }, [editing]);
  return (
    <input
      data-go-to
      aria-label="Go to frame"
      aria-invalid={wrong}
      title="Type a frame, a sum, a timecode, or +12 for twelve on"
      className={clsx(
        "num rounded border bg-transparent px-1 outline-none focus:border-ochre",
        wrong ? "border-brick" : "border-transparent hover:border-line",
      )}
      style={{ fieldSizing: "content", minWidth: "7ch" }}
      value={text ?? shown}
      spellCheck={false}
      autoComplete="off"
      ref={input}
      onMouseDown={(e) => {
        if (document.activeElement === input.current) return;
        // the whole number is chosen, not a place in it
        e.preventDefault();
        input.current!.focus();
      }}
      onFocus={() => setText(count.show(frame))}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => (setText(null), setWrong(false))}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Escape") return e.currentTarget.blur();
        if (e.key !== "Enter") return;
        const n = count.read(e.currentTarget.value, frame);
        if (n === null) {
          editor.say(`“${e.currentTarget.value}” is no frame: type a number, a sum such as 88-31, or a timecode.`);
          return setWrong(true);
        }
        editor.transport.stop();
        editor.transport.goTo(n);
        e.currentTarget.blur();
      }}
    />
  );
}
