"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Download, RotateCcw, Square } from "lucide-react";
import { useEffect } from "react";
import { toast } from "sonner";
import { fetchRenders, recipeUrl, renderedUrl, runAgain, stillUrl, stopJob } from "@/client/api";
import type { Job } from "@/wire/job";
import { useEditor, useEditorState } from "../editor/context";
import { useCounting } from "../editor/usePreferences";
import { Button, IconButton } from "../parts/Button";
import { NotClean } from "./proof/NotClean";
import { RenderSettings } from "./RenderSettings";
import { saveFile } from "../parts/save";
import { Section } from "./Section";
import { CODECS, isStills } from "@/wire/formats";

/** What will be written, what is being written, what has been written. */
export function RenderCard() {
  const { show } = useCounting();
  const editor = useEditor();
  const s = useEditorState((x) => x);
  const client = useQueryClient();
  const key = ["renders", s.shot.id];
  const jobs = useQuery({ queryKey: key, queryFn: () => fetchRenders(s.shot.id) });
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
  return (
    <>
      <div className="border-b border-line px-3.5 py-2.5">
        <h2 className="font-semibold">Render</h2>
      </div>
      <NotClean />
      <RenderSettings run={guarded} />
      <Section title="Rendered files">
        {jobs.data?.length === 0 && <p className="text-dim">Nothing yet.</p>}
        <ul className="space-y-3">
          {jobs.data?.map((j) => (
            <JobRow key={j.id} job={j} stale={j.rev !== editor.queue.revision} run={guarded} />
          ))}
        </ul>
      </Section>
      <Section title="Single pictures">
        <div className="space-y-2">
          <Button className="w-full" onClick={() => void saveFile(stillUrl(s.shot.id, { what: "frame", frame: s.frame }))}>
            Save frame {show(s.frame)} as PNG
          </Button>
          <Button className="w-full" onClick={() => void saveFile(recipeUrl(s.shot.id))}>
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
          {CODECS.some((c) => c === j.codec && isStills(c)) ? ".zip" : ""}
        </span>
        {under && (
          <IconButton name="Stop" side="left" onClick={() => void run(() => stopJob(j.id))}>
            <Square size={14} />
          </IconButton>
        )}
        {j.state === "done" && (
          <a
            href={renderedUrl(j.id)}
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
            {j.done >= j.total ? ", being finished" : left !== null ? `, ${Math.ceil(left)} s left` : ""}
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
