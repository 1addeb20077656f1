"use client";
import { atFrame } from "@/client/editor/counting";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Scissors } from "lucide-react";
import { toast } from "sonner";
import { cutShot, fetchNext, joinNext, orderStills } from "@/client/api";
import { takeOf } from "@/client/editor/state/select";
import { useEditor, useEditorPick } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { Button } from "../parts/Button";
import { NumberField } from "../parts/NumberField";
import { Pair } from "./FrameFields";
import { Section } from "./Section";

/** The stretch of the take that is this shot: trimmed, cut, joined again; the order of numbered stills. */
export function ShotSection() {
  const editor = useEditor();
  const s = useEditorPick("recipe", "shot", "frame", "survey");
  const client = useQueryClient();
  const take = takeOf(s);
  const { in: a, out: b } = s.recipe.shot;
  const key = ["next", s.shot.id, b];
  const next = useQuery({ queryKey: key, queryFn: () => fetchNext(s.shot.id) });
  const cuts = (s.survey?.survey?.cuts ?? []).filter((c) => c > a && c <= b);
  const run = async (ask: () => Promise<unknown>, said: string) => {
    try {
      await editor.queue.settled();
      await ask();
      toast(said);
    } catch (e) {
      toast.error(e instanceof Error ? e.message : String(e), { duration: 12000 });
    }
    void client.invalidateQueries({ queryKey: ["next"] });
  };
  const trim = (which: "in" | "out", n: number) =>
    editor.commit(`${which === "in" ? "Begin" : "End"} the shot at frame ${atFrame(n)}`, (d) => {
      d.shot[which] = n;
      if (d.output) d.output[which] = n;
    });
  const { show } = useCounting();
  const last = take.info!.frames - 1;
  return (
    <Section title="The shot">
      <Pair
        frames
        label="First, last"
        a={{ label: "First frame of the shot", value: a, min: 0, max: b, onCommit: (v) => trim("in", v) }}
        b={{ label: "Last frame of the shot", value: b, min: a, max: last, onCommit: (v) => trim("out", v) }}
      />
      <div className="mt-1 space-y-2">
        {cuts.length > 0 && (
          <Button
            className="w-full"
            onClick={() => void run(() => cutShot(s.shot.id, cuts), `Cut into ${cuts.length + 1} shots; the others are on the page of productions.`)}
          >
            <Scissors size={14} /> {cuts.length === 1 ? `Cut at the cut found at ${show(cuts[0])}` : `Cut at the ${cuts.length} cuts found`}
          </Button>
        )}
        <Button
          className="w-full"
          disabled={s.frame <= a}
          title={s.frame <= a ? "Go to the frame with which the next shot is to begin." : undefined}
          onClick={() =>
            void run(
              () => cutShot(s.shot.id, [s.frame]),
              `Cut before frame ${show(s.frame)}; the rest is a shot of its own on the page of productions.`,
            )
          }
        >
          <Scissors size={14} /> Cut before frame {show(s.frame)}
        </Button>
        {next.data?.name && (
          <Button className="w-full" onClick={() => void run(() => joinNext(s.shot.id), `${next.data.name} is joined on again.`)}>
            Join “{next.data.name}” on
          </Button>
        )}
        {take.stills && (
          <NumberField
            label="Stills a second"
            value={take.info!.rate[0] / take.info!.rate[1]}
            min={1}
            max={240}
            step={0.001}
            onCommit={(v) =>
              void run(
                () => orderStills(take.id, take.stills!.reversed, Number.isInteger(v) ? [v, 1] : [Math.round(v * 1000), 1000]),
                "The stills are read anew at this rate.",
              )
            }
          />
        )}
        {take.stills && (
          <Button
            className="w-full"
            onClick={() =>
              void run(async () => {
                await orderStills(take.id, !take.stills!.reversed, take.info!.rate);
                // every frame has another number now
                window.location.reload();
              }, "The stills are read anew in the other order.")
            }
          >
            {take.stills.reversed ? "Put the stills back in their order" : "Reverse the stills"}
          </Button>
        )}
      </div>
    </Section>
  );
}
