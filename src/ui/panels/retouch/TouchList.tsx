"use client";
import clsx from "clsx";
import { ArrowLeft, ChevronDown, ChevronUp, Eye, EyeOff, Trash2 } from "lucide-react";
import { layerTitle } from "@/recipe/query";
import { touchesOpen } from "@/client/editor/state/select";
import type { Touch } from "@/core/document/touch";
import { useEditor, useEditorPick } from "../../editor/context";
import { useCounting } from "../../editor/usePreferences";
import { Button, IconButton } from "../../parts/Button";
import { openPaint } from "@/client/editor/state/mode";

const holds = (t: Touch, n: number) => !t.frames || (n >= t.frames[0] && n <= t.frames[1]);

/** The touches of what is open, newest on top: of a plate all, of a paint layer those on the frame. */
export function TouchList() {
  const editor = useEditor();
  const s = useEditorPick("recipe", "mode", "frame", "retouch");
  const paint = openPaint(s);
  const touches = touchesOpen(s);
  const { show } = useCounting();
  const shown = touches.map((t, i) => ({ t, i })).filter(({ t }) => !paint || holds(t, s.frame));
  const close = () => editor.mode.close();
  return (
    <section aria-label="Touches">
      <div className="flex h-9 items-center justify-between pr-2 pl-3.5">
        <h2 className="font-semibold text-dim">{paint ? `Touches on frame ${show(s.frame)}` : "Touches"}</h2>
        {paint && <span className="num pr-1.5 text-[12px] text-dim">{touches.length} in all</span>}
      </div>
      <div className="px-3.5 pb-2">
        <Button className="w-full" onClick={close}>
          <ArrowLeft size={14} aria-hidden /> Back to the shot
        </Button>
      </div>
      {shown.length === 0 && (
        <p className="px-3.5 pb-2 text-dim">
          {paint ? (
            <>
              Nothing is painted on this frame of {layerTitle(s.recipe, paint)}. Paint, or press <kbd className="num text-ochre">C</kbd> to carry on
              what is on the frame before.
            </>
          ) : (
            "No touch yet. Paint on the plate; every stroke is listed here."
          )}
        </p>
      )}
      <ul>
        {shown.toReversed().map(({ t, i }) => {
          const off = t.on === false;
          const chosen = s.retouch.touch === t.id;
          return (
            <li
              key={t.id}
              className={clsx("flex items-center border-l-2 pr-1.5 pl-3", chosen ? "border-ochre bg-raised" : "border-transparent hover:bg-raised")}
            >
              <button
                type="button"
                aria-pressed={chosen}
                aria-label={`Touch ${i + 1}: ${t.name || t.kind}`}
                className={clsx("flex h-7 min-w-0 flex-1 items-center text-left", off && "text-dim line-through")}
                onClick={() => editor.retouch.set({ touch: chosen ? null : t.id, loop: [] })}
              >
                <span className="num w-7 shrink-0 text-[12px] text-dim">{i + 1}</span>
                <span className="truncate">{t.name || t.kind}</span>
                <span className="num ml-2 truncate text-[12px] text-dim">{words(t, show)}</span>
              </button>
              {chosen && (
                <>
                  <IconButton
                    name="Lay it later"
                    side="right"
                    className="w-6"
                    disabled={i === touches.length - 1}
                    onClick={() => editor.retouch.moveTouch(t.id, 1)}
                  >
                    <ChevronUp size={14} />
                  </IconButton>
                  <IconButton
                    name="Lay it earlier"
                    side="right"
                    className="w-6"
                    disabled={i === 0}
                    onClick={() => editor.retouch.moveTouch(t.id, -1)}
                  >
                    <ChevronDown size={14} />
                  </IconButton>
                </>
              )}
              <IconButton
                name={off ? "Switch this touch on" : "Switch this touch off"}
                side="right"
                className="w-6"
                onClick={() => editor.retouch.changeTouch(t.id, `Switch a touch ${off ? "on" : "off"}`, (d) => void (d.on = off))}
              >
                {off ? <EyeOff size={14} /> : <Eye size={14} />}
              </IconButton>
              <IconButton name="Delete this touch" side="right" className="w-6" onClick={() => editor.retouch.deleteTouch(t.id)}>
                <Trash2 size={14} />
              </IconButton>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function words(t: Touch, show: (n: number) => string): string {
  const size = t.brush && t.path ? `${t.brush.size} px` : "area";
  return t.frames && t.frames[1] > t.frames[0] ? `${size}, ${show(t.frames[0])}–${show(t.frames[1])}` : size;
}
