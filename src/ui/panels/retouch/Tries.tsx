"use client";
import { Dices } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Touch } from "@/core/document/touch";
import { useEditor, useEditorPick } from "../../editor/context";
import { Button } from "../../parts/Button";
import { Section } from "../Section";

/** Other fills of the same area to choose from. */
export function Tries({ touch }: { touch: Touch }) {
  const editor = useEditor();
  const { task } = useEditorPick("task");
  const [list, setList] = useState<{ seed: number; image: ImageData | null }[]>([]);
  const ask = () => {
    const asked = editor.retouch.tries(touch);
    setList(asked.map(({ seed }) => ({ seed, image: null })));
    for (const { seed, picture } of asked) void picture.then((image) => setList((now) => now.map((x) => (x.seed === seed ? { seed, image } : x))));
  };
  return (
    <Section title="Fill">
      {list.length > 0 && (
        <ul className="mb-2 grid grid-cols-2 gap-2">
          {list.map(({ seed, image }) => (
            <li key={seed}>
              <button
                type="button"
                aria-label={`Take try ${seed}`}
                aria-pressed={touch.seed === seed}
                disabled={!image}
                className={`block h-24 w-full overflow-hidden rounded-md border bg-ground ${touch.seed === seed ? "border-ochre" : "border-line enabled:hover:border-dim"}`}
                onClick={() => editor.retouch.changeTouch(touch.id, `Take try ${seed} of a fill`, (d) => void (d.seed = seed))}
              >
                {image ? <Picture image={image} /> : <span className="text-[12px] text-dim">…</span>}
              </button>
            </li>
          ))}
        </ul>
      )}
      <Button className="w-full" disabled={!!task} onClick={ask}>
        <Dices size={14} aria-hidden /> {list.length ? "Four more tries" : "Four other tries"}
      </Button>
      <UseAids touch={touch} />
    </Section>
  );
}

/** Fills again with what has been drawn meanwhile. */
function UseAids({ touch }: { touch: Touch }) {
  const editor = useEditor();
  const { retouch: r } = useEditorPick("retouch");
  const has = (touch.avoid?.length ?? 0) + (touch.only?.length ?? 0) + (touch.guides?.length ?? 0);
  const drawn = r.avoid.length + r.only.length + r.guides.length;
  return (
    <>
      <p className="mt-2 text-dim">
        {has
          ? `Stays away from ${touch.avoid?.length ?? 0}, takes only from ${touch.only?.length ?? 0}, carries on ${touch.guides?.length ?? 0} drawn lines.`
          : "Takes from all around."}
      </p>
      {(drawn > 0 || has > 0) && (
        <Button
          className="mt-1 w-full"
          onClick={() =>
            editor.retouch.changeTouch(touch.id, "Fill with what was drawn", (d) => {
              Object.assign(d, { avoid: structuredClone(r.avoid), only: structuredClone(r.only), guides: structuredClone(r.guides) });
            })
          }
        >
          Fill again with what is drawn now
        </Button>
      )}
    </>
  );
}

function Picture({ image }: { image: ImageData }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    canvas.current?.getContext("2d")?.putImageData(image, 0, 0);
  }, [image]);
  return <canvas ref={canvas} width={image.width} height={image.height} className="h-full w-full object-cover" />;
}
