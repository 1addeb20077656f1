"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, RotateCcw, Square } from "lucide-react";
import { useEffect, useState } from "react";
import { toast } from "sonner";
import { fetchRenders, runAgain, startRender, stopJob } from "@/client/api";
import { outputOf } from "@/core/document";
import type { Job, RenderRequest } from "@/wire/shot";
import { useBench, useBenchState } from "../bench/context";
import { Button, IconButton } from "../parts/Button";
import { NumberField } from "../parts/NumberField";
import { saveFile } from "./save";
import { Section } from "./Section";

const NAMES: Record<RenderRequest["codec"], string> = {
  h264: "H.264",
  prores: "ProRes",
  ffv1: "FFV1, lossless",
  vp9: "VP9",
  png: "PNG stills",
  tiff: "TIFF stills",
};
const WHAT: Record<RenderRequest["codec"], string> = {
  h264: "H.264 in MP4, with the take's sound, rate, timecode and colour tags.",
  ffv1: "FFV1 in MKV, lossless: what no patch touches is the take's own samples.",
  prores: "ProRes in MOV, 10 bits, 4:2:2 (4:4:4 where the take has it, or alpha). Other samples are converted, and that is said.",
  vp9: "VP9 in WebM, with the sound as Opus.",
  png: "Numbered PNG stills (16 bits where the take has more than 8), named by the take's frame numbers, as one zip.",
  tiff: "Numbered TIFF stills, 16 bits, named by the take's frame numbers, as one zip.",
};

/** What will be written, what is being written, what has been written. */
export function RenderCard() {
  const bench = useBench();
  const s = useBenchState((x) => x);
  const client = useQueryClient();
  const key = ["renders", s.shot.id];
  const jobs = useQuery({ queryKey: key, queryFn: () => fetchRenders(s.shot.id) });
  const [codec, setCodec] = useState<RenderRequest["codec"]>("h264");
  const [crf, setCrf] = useState(18);
  useEffect(() => {
    const on = (e: Event) => {
      const job = (e as CustomEvent<Job>).detail;
      if (job.shotId !== s.shot.id) return;
      client.setQueryData<Job[]>(key, (old) =>
        old?.some((j) => j.id === job.id) ? old.map((j) => (j.id === job.id ? job : j)) : [job, ...(old ?? [])],
      );
    };
    window.addEventListener("umber-job", on);
    return () => window.removeEventListener("umber-job", on);
  });
  const guarded = async (run: () => Promise<unknown>) => {
    try {
      await run();
    } catch (e) {
      toast.error(e instanceof Error ? e.message : String(e), { duration: 12000 });
    }
    void client.invalidateQueries({ queryKey: key });
  };
  const range = outputOf(s.recipe);
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">Render</h2>
      </div>
      <Section title="What is written">
        <label className="flex h-8 items-center gap-2">
          <span className="w-[84px] shrink-0 text-dim">Codec</span>
          <select
            className="h-7 w-[118px] rounded-md border border-line bg-ground px-1.5"
            value={codec}
            onChange={(e) => setCodec(e.target.value as RenderRequest["codec"])}
          >
            {Object.entries(NAMES).map(([v, l]) => (
              <option key={v} value={v}>
                {l}
              </option>
            ))}
          </select>
        </label>
        <p className="my-2 text-dim">
          {WHAT[codec]}{" "}
          <span className="num">
            Frames {range.in}–{range.out}.
          </span>
        </p>
        {codec === "h264" && <NumberField label="CRF" value={crf} min={0} max={51} reset={18} onDrag={setCrf} onCommit={setCrf} />}
        <Button
          tone="main"
          className="mt-2 w-full"
          disabled={s.saved.waiting > 0}
          onClick={() => void guarded(() => startRender(s.shot.id, { codec, crf, preset: "medium" }))}
        >
          Render
        </Button>
        {s.saved.waiting > 0 && <p className="mt-1 text-dim">The last edit is being stored; a moment.</p>}
      </Section>
      <Section title="Written">
        {jobs.data?.length === 0 && <p className="text-dim">Nothing yet.</p>}
        <ul className="space-y-3">
          {jobs.data?.map((j) => (
            <JobRow key={j.id} job={j} stale={j.rev !== bench.queue.revision} run={guarded} />
          ))}
        </ul>
      </Section>
      <Section title="Single pictures">
        <div className="space-y-2">
          <Button className="w-full" onClick={() => void saveFile(`/api/shots/${s.shot.id}/still?what=frame&frame=${s.frame}`)}>
            Save frame {s.frame} as PNG
          </Button>
          <Button className="w-full" onClick={() => void saveFile(`/api/shots/${s.shot.id}/recipe`)}>
            Save the recipe as a file
          </Button>
        </div>
      </Section>
    </>
  );
}

const size = (b: number) => (b > 1e6 ? `${(b / 1e6).toFixed(1)} MB` : `${Math.round(b / 1e3)} kB`);
const STATES: Record<Job["state"], string> = { queued: "waiting", running: "being written", done: "done", failed: "failed", stopped: "stopped" };

function JobRow({ job: j, stale, run }: { job: Job; stale: boolean; run: (f: () => Promise<unknown>) => Promise<void> }) {
  const under = j.state === "running" || j.state === "queued";
  const took = j.startedAt && j.endedAt ? (j.endedAt - j.startedAt) / 1000 : 0;
  const left = j.startedAt && j.done > 4 ? ((Date.now() - j.startedAt) / 1000 / j.done) * (j.total - j.done) : null;
  return (
    <li data-testid="job" data-state={j.state}>
      <div className="flex items-center gap-1">
        <span className="min-w-0 flex-1 truncate" title={j.file}>
          {j.file}
          {j.codec === "png" || j.codec === "tiff" ? ".zip" : ""}
        </span>
        {under && (
          <IconButton name="Stop" side="left" onClick={() => void run(() => stopJob(j.id))}>
            <Square size={14} />
          </IconButton>
        )}
        {j.state === "done" && (
          <a
            href={`/api/jobs/${j.id}/file`}
            download
            aria-label={`Download ${j.file}`}
            className="inline-flex h-7 w-7 items-center justify-center rounded-md text-ochre"
          >
            <Download size={15} />
          </a>
        )}
        {(j.state === "stopped" || j.state === "failed") && (
          <IconButton name="Run again" side="left" onClick={() => void run(() => runAgain(j.id))}>
            <RotateCcw size={14} />
          </IconButton>
        )}
      </div>
      {under ? (
        <>
          <div
            role="progressbar"
            aria-label={`Writing ${j.file}`}
            aria-valuemin={0}
            aria-valuemax={j.total}
            aria-valuenow={j.done}
            className="my-1 h-1.5 overflow-hidden rounded bg-ground"
          >
            <div className="h-full bg-ochre" style={{ width: `${(100 * j.done) / j.total}%` }} />
          </div>
          <p className="num text-[12px] text-dim">
            {j.done} of {j.total}
            {left !== null ? `, ${Math.ceil(left)} s left` : ""}
          </p>
        </>
      ) : (
        <p className="text-[12px] text-dim">
          <span className={j.state === "failed" ? "text-brick" : ""}>{STATES[j.state]}</span>
          {j.bytes ? `, ${size(j.bytes)}` : ""}
          {j.state === "done" && took ? `, ${took.toFixed(1)} s` : ""}
          {j.state === "done" && stale ? "; the shot was changed since" : ""}
        </p>
      )}
      {j.error && j.state !== "done" && <p className="text-[12px] text-dim">{j.error}</p>}
      {j.notes.map((n) => (
        <p key={n} className="text-[12px] text-dim">
          {n}
        </p>
      ))}
    </li>
  );
}
