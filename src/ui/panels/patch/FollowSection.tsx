"use client";
import { Trash2 } from "lucide-react";
import { useMemo } from "react";
import { trackOf, trackPathIn } from "@/client/editor/actions/following";
import { REACHES, type Reach, WAYS, type Way } from "@/client/editor/state/follow";
import { TRACK_MODELS, type TrackModel } from "@/core/document/track";
import type { PatchLayer } from "@/core/document/layer";
import { useEditor, useEditorPick } from "../../editor/context";
import { useCounting, useKeyShown } from "../../editor/usePreferences";
import { Button, IconButton } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NameField } from "../../parts/NameField";
import { CurveChart, OCHRE } from "../CurveChart";
import { Section } from "../Section";

const WAY: Record<Way, string> = { both: "Both ways", on: "Onward", back: "Back" };
const REACH: Record<Reach, string> = { patch: "Its frames", shot: "The shot", key: "To the next key" };
const MAY: Record<TrackModel, string> = {
  shift: "move",
  similarity: "move, turn, grow",
  affine: "move, turn, grow, slant",
  perspective: "move, turn in depth",
};
const PARTS = [
  ["mask", "Mask"],
  ["to", "Picture"],
  ["from", "Read along"],
] as const;

/** What a patch follows: nothing, or regions of the footage that were followed through it. */
export function FollowSection({ layer }: { layer: PatchLayer }) {
  const editor = useEditor();
  const { recipe, tool, following, task } = useEditorPick("recipe", "tool", "following", "task");
  const key = useKeyShown("tool8");
  const all = Object.entries(recipe.tracks ?? {});
  const id = trackOf(layer);
  return (
    <Section
      title="Follow"
      aside={
        <Button
          className="h-6 px-2 text-[12px]"
          aria-pressed={tool === "follow"}
          disabled={layer.locked}
          onClick={() => editor.masks.setTool(tool === "follow" ? "adjust" : "follow")}
        >
          {id ? "Another region …" : "Draw a region …"}
        </Button>
      }
    >
      {!id && tool !== "follow" && (
        <p className="pb-1 text-[12px] text-dim">
          It stays where it is. If it lies on something that moves, draw a box round what moves with it <kbd className="num text-ochre">{key}</kbd>.
        </p>
      )}
      {tool === "follow" && (
        <div className="space-y-1.5 pb-1.5">
          <p className="text-[12px] text-dim">
            Drag a box on the picture, or click corner by corner (Enter closes), round texture that moves with the thing. It is followed:
          </p>
          <Choice
            name="Which way"
            tight
            options={WAYS.map((w) => [w, WAY[w]] as const)}
            value={following.way}
            onChange={(way) => editor.following.setFollowing({ way })}
          />
          <Choice
            name="How far"
            tight
            options={REACHES.map((r) => [r, REACH[r]] as const)}
            value={following.reach}
            onChange={(reach) => editor.following.setFollowing({ reach })}
          />
          <label className="flex h-7 items-center gap-2">
            <span className="shrink-0 text-dim">It may</span>
            <select
              aria-label="How it may change"
              className="h-6 min-w-0 flex-1 rounded-md border border-line bg-ground px-1"
              value={following.model ?? ""}
              onChange={(e) => editor.following.setFollowing({ model: TRACK_MODELS.find((m) => m === e.target.value) ?? null })}
            >
              <option value="">change as it needs to</option>
              {TRACK_MODELS.map((m) => (
                <option key={m} value={m}>
                  {MAY[m]}
                </option>
              ))}
            </select>
          </label>
        </div>
      )}
      {all.length > 0 &&
        PARTS.map(([part, words]) => (
          <label key={part} className="flex h-8 items-center gap-2">
            <span className="w-[84px] shrink-0 text-dim">{words}</span>
            <select
              aria-label={`${words}: follows`}
              className="h-6 min-w-0 flex-1 rounded-md border border-line bg-ground px-1"
              disabled={layer.locked}
              value={layer.tied?.[part] ?? ""}
              onChange={(e) => editor.following.tie(layer, part, e.target.value || null)}
            >
              <option value="">nothing</option>
              {all.map(([t, { name }]) => (
                <option key={t} value={t}>
                  {name ?? t}
                </option>
              ))}
            </select>
          </label>
        ))}
      {id && recipe.tracks?.[id] && <TrackPart id={id} busy={!!task} locked={!!layer.locked} />}
    </Section>
  );
}

/** One track: how surely it is known over time, where it stopped and why, and how to go on with it. */
function TrackPart({ id, busy, locked }: { id: string; busy: boolean; locked: boolean }) {
  const editor = useEditor();
  const { recipe, frame, tracks } = useEditorPick("recipe", "frame", "tracks");
  const { show } = useCounting();
  const track = recipe.tracks![id];
  const data = tracks.get(track.data);
  const path = trackPathIn({ recipe, tracks }, id);
  const { in: first, out: last } = recipe.shot;
  const curve = useMemo(() => {
    if (!path) return null;
    const values = Array.from({ length: last - first + 1 }, (_, i) => path.quality(first + i) ?? 0);
    return [{ name: "likeness", values, colour: OCHRE }];
  }, [path, first, last]);
  if (!data || !path || !curve) return <p className="text-[12px] text-dim">The track is being read …</p>;
  const stops = data.flatMap((t) => ("stopped" in t ? [t] : []));
  const measured = data.flatMap((t) => ("matrix" in t ? [t] : []));
  const weakest = measured.reduce((a, b) => (b.quality < a.quality ? b : a), measured[0]);
  const byHand = track.set?.some((s) => s.f === frame);
  const here = path.quality(frame);
  const jump = "text-ochre underline-offset-2 hover:underline";
  return (
    <div className="mt-1 border-t border-line pt-1.5" data-testid="track">
      <div className="flex items-center gap-1">
        <NameField
          label="Name of the track"
          name={track.name ?? ""}
          placeholder="without a name"
          className="h-6 min-w-0 flex-1 rounded-md border border-transparent bg-transparent px-1 outline-none hover:border-line focus:border-ochre"
          settle={(name) => void (name && editor.following.rename(id, name))}
        />
        <IconButton name="Delete this track" side="left" onClick={() => editor.following.remove(id)}>
          <Trash2 size={14} />
        </IconButton>
      </div>
      <CurveChart
        label="How alike the region is"
        curves={curve}
        first={first}
        frame={frame}
        goTo={(n) => editor.transport.goTo(n)}
        least={0.4}
        digits={1}
      />
      <p className="py-1 text-[12px] text-dim">
        {here === null ? "Not measured here: " : byHand ? "Put by hand here. " : `Likeness here ${here.toFixed(2)}. `}
        {here === null &&
          (frame < track.in || frame > track.out
            ? "it stays as it was last seen. "
            : "it goes straight from what is known before to what is known after. ")}
        Weakest at{" "}
        <button type="button" className={jump} onClick={() => editor.transport.goTo(weakest.f)}>
          {show(weakest.f)}
        </button>
        .
      </p>
      {stops.map((t) => (
        <p key={t.f} className="py-0.5 text-[12px]" data-testid="track-stop">
          Stopped at{" "}
          <button type="button" className={jump} onClick={() => editor.transport.goTo(t.f)}>
            {show(t.f)}
          </button>
          : {t.stopped}.
        </p>
      ))}
      <div className="flex flex-wrap gap-1.5 py-1">
        <Button className="h-6 px-2 text-[12px]" disabled={busy || locked} onClick={() => void editor.following.goOn(id, "on")}>
          Go on from here
        </Button>
        <Button className="h-6 px-2 text-[12px]" disabled={busy || locked} onClick={() => void editor.following.goOn(id, "back")}>
          Back from here
        </Button>
        {byHand && (
          <Button className="h-6 px-2 text-[12px]" onClick={() => editor.following.unset(id)}>
            As measured here
          </Button>
        )}
      </div>
    </div>
  );
}
