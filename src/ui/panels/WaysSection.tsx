"use client";
import { useQuery } from "@tanstack/react-query";
import clsx from "clsx";
import { useState } from "react";
import { toast } from "sonner";
import { fetchState } from "@/client/api";
import { takeOf } from "@/client/editor/state/select";
import { checklistFor, type Facts, type Way, type WayName, warningsFor, waysFor } from "@/core/survey/advice";
import type { SeenAnswer } from "@/wire/plate";
import type { Take } from "@/wire/take";
import { useEditorPick } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { Button } from "../parts/Button";
import { Section } from "./Section";

const NAMES: Record<WayName, string> = {
  follow: "One frame, along a track",
  hold: "A held frame",
  built: "A plate of many frames",
  slip: "The take, shifted",
  "cut-out": "Its form, cut out",
  paint: "Painted frames",
  take: "Another take",
};
const CAN: Record<Way["can"], string> = { yes: "can work", part: "in part", no: "not here" };

/** What is known of an outlined thing and of the shot around it. */
function useFacts({ never, first, last, clean, others, beyond, rides }: SeenAnswer): Facts {
  const s = useEditorPick("recipe", "survey", "shot");
  const state = useQuery({ queryKey: ["state"], queryFn: fetchState, staleTime: 30_000 });
  const own = takeOf(s);
  const alike = (t: Take) => t.id !== own.id && t.info?.width === own.info?.width && t.info?.height === own.info?.height;
  const otherTakes = state.data?.productions.find((p) => p.id === s.shot.production.id)?.takes.filter(alike).length ?? 0;
  return { shot: s.recipe.shot, never, first, last, clean, others, beyond, rides, otherTakes, survey: s.survey?.survey ?? null };
}

/** What stands in the way, whichever way is chosen. */
export function Warnings({ found }: { found: SeenAnswer }) {
  const { show } = useCounting();
  return warningsFor(useFacts(found), show).map((w) => (
    <p key={w} className="mt-2 text-brick">
      {w}
    </p>
  ));
}

/** Which ways can take an outlined thing out, and why not the others; and what to do at the next shoot. */
export function WaysSection({ found }: { found: SeenAnswer }) {
  const { show } = useCounting();
  const [list, setList] = useState(false);
  const facts = useFacts(found);
  const checklist = checklistFor(facts);
  const copy = () =>
    void navigator.clipboard.writeText(checklist.map((l) => `[ ] ${l}`).join("\n")).then(
      () => toast("The checklist is copied."),
      () => toast.error("The browser lets nothing be copied here: mark the lines and copy them yourself."),
    );
  return (
    <Section title="Ways to take it out">
      <ul className="space-y-1.5">
        {waysFor(facts, show).map(({ way, can, says }) => (
          <li key={way} className={clsx(can === "no" && "text-dim")}>
            <span className="flex items-baseline gap-2">
              <strong className="flex-1 font-semibold">{NAMES[way]}</strong>
              <span className={clsx("text-[12px]", can === "yes" ? "text-ochre" : "text-dim")}>{CAN[can]}</span>
            </span>
            <span className="block text-[12px] text-dim">{says}</span>
          </li>
        ))}
      </ul>
      <Button className="mt-2 w-full" aria-expanded={list} onClick={() => setList(!list)}>
        For the next shoot
      </Button>
      {list && (
        <>
          <ul className="mt-2 list-disc space-y-1 pl-4 text-[12px]">
            {checklist.map((l) => (
              <li key={l}>{l}</li>
            ))}
          </ul>
          <Button className="mt-2 h-6 px-2 text-[12px]" onClick={copy}>
            Copy the list
          </Button>
        </>
      )}
    </Section>
  );
}
