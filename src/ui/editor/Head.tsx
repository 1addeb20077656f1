"use client";
import clsx from "clsx";
import { HelpCircle, History, Redo2, Undo2 } from "lucide-react";
import Link from "next/link";
import { counted } from "@/client/editor/counting";
import { proofNow } from "@/client/editor/actions/proving";
import type { EditorState } from "@/client/editor/state/editor";
import type { Stage } from "@/client/editor/state/mode";
import { STAGES } from "@/client/editor/state/mode";
import { isMatched } from "@/core/compose/matched";
import { isPaint, isPatch } from "@/core/document/layer";
import { IconButton } from "../parts/Button";
import { Moth } from "../parts/Moth";
import { Tip } from "../parts/Tip";
import { useEditor, useEditorPick } from "./context";
import { useCounting, useKeyShown } from "./usePreferences";
import { layersOf } from "@/recipe/query";

/** What a stage has to show for itself. */
function stateOf(stage: Stage, s: Pick<EditorState, "recipe" | "proof">): { done: boolean; words: string } {
  const all = layersOf(s.recipe);
  const patches = all.filter(isPatch).length;
  const painted = all.some((l) => isPaint(l) && l.touches.length > 0);
  const plates = Object.keys(s.recipe.plates).length;
  if (stage === "Scout") return { done: true, words: "What is measured, and when a thing is seen" };
  if (stage === "Plate")
    return { done: plates > 0, words: plates ? `${plates} ${plates === 1 ? "plate" : "plates"}` : "No plate yet: find a clean frame, press P" };
  if (stage === "Patch")
    return {
      done: patches > 0 || painted,
      words: patches
        ? `${patches} ${patches === 1 ? "patch" : "patches"}${painted ? ", painted frames" : ""}`
        : painted
          ? "Painted frames"
          : "No patch yet: draw round what must go",
    };
  if (stage === "Match") {
    const matched = all.filter((l) => isPatch(l) && isMatched(l)).length;
    return {
      done: matched > 0,
      words: matched ? `${matched} of ${patches} ${patches === 1 ? "patch" : "patches"} matched` : "Light, seam and grain of a patch",
    };
  }
  if (stage === "Render") return { done: false, words: "Write the mended shot" };
  const proof = proofNow(s);
  if (!proof) return { done: false, words: "What is still wrong, measured" };
  const { verdict, findings } = proof;
  if (verdict === "faults") return { done: false, words: findings.length === 1 ? "One finding" : `${findings.length} findings` };
  return { done: verdict === "clean", words: verdict === "clean" ? "Nothing found: proven clean" : "Nothing found, but not all could be told" };
}

/** Where I am, the stages of the work, undo, what is being stored. */
export function Head() {
  const editor = useEditor();
  const s = useEditorPick("recipe", "mode", "saved", "shot", "proof");
  const { shot, saved } = s;
  const { stage } = s.mode;
  const { show } = useCounting();
  const keys = { undo: useKeyShown("undo"), redo: useKeyShown("redo"), history: useKeyShown("history"), all: useKeyShown("keys") };
  return (
    <header className="flex h-[44px] shrink-0 items-center gap-3 border-b border-line px-3 [--stage:74px] max-[900px]:gap-1 max-[900px]:px-1.5 max-[900px]:[--stage:60px]">
      <Tip text="To the productions">
        <Link href="/" aria-label="To the productions" className="flex items-center rounded-md p-1">
          <Moth />
        </Link>
      </Tip>
      <p className="w-[250px] truncate text-[14px] max-[900px]:hidden">
        <span className="text-dim">{shot.production.name} / </span>
        {shot.name}
      </p>
      <nav aria-label="Stages" className="flex flex-1 justify-center">
        <ol className="flex">
          {STAGES.map((name, i) => {
            const st = stateOf(name, s);
            const here = stage === name;
            return (
              <li key={name} className="relative w-(--stage)">
                {i > 0 && (
                  <span aria-hidden className="absolute top-[9px] left-[calc(6px-var(--stage)/2)] h-px w-[calc(var(--stage)-12px)] bg-line" />
                )}
                <Tip text={st.words}>
                  <button
                    type="button"
                    aria-current={here ? "step" : undefined}
                    onClick={() => editor.mode.setStage(name)}
                    className={clsx(
                      "relative flex w-full flex-col items-center gap-0.5 rounded-md py-1",
                      here ? "text-ochre" : "text-dim hover:text-bone",
                    )}
                  >
                    <span
                      aria-hidden
                      className={clsx(
                        "h-[9px] w-[9px] rounded-full border bg-ground",
                        here ? "border-ochre bg-ochre" : st.done ? "border-dim bg-dim" : "border-dim",
                      )}
                    />
                    <span className="leading-tight">{name}</span>
                  </button>
                </Tip>
              </li>
            );
          })}
        </ol>
      </nav>
      <span
        role="status"
        className={clsx("w-32 text-right max-[900px]:w-auto max-[900px]:max-w-24 max-[900px]:truncate", saved.offline ? "text-brick" : "text-dim")}
      >
        {saved.offline ? "not stored yet, trying" : saved.waiting ? "storing …" : "saved"}
      </span>
      <IconButton
        name={saved.undo ? `Undo: ${lower(counted(saved.undo, show))}` : "Nothing to undo"}
        keys={keys.undo}
        disabled={!saved.undo}
        onClick={() => void editor.history.undo()}
      >
        <Undo2 size={16} />
      </IconButton>
      <IconButton
        name={saved.redo ? `Redo: ${lower(counted(saved.redo, show))}` : "Nothing to redo"}
        keys={keys.redo}
        disabled={!saved.redo}
        onClick={() => void editor.history.redo()}
      >
        <Redo2 size={16} />
      </IconButton>
      <IconButton name="Everything that was done" keys={keys.history} onClick={() => editor.view.openDialog("history")}>
        <History size={16} />
      </IconButton>
      <IconButton name="All keys" keys={keys.all} onClick={() => editor.view.openDialog("keys")}>
        <HelpCircle size={16} />
      </IconButton>
    </header>
  );
}

const lower = (s: string) => s.charAt(0).toLowerCase() + s.slice(1);
