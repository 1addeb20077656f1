"use client";
import { useQuery } from "@tanstack/react-query";
import clsx from "clsx";
import Link from "next/link";
import { toast } from "sonner";
import { fetchLog } from "@/client/api";
import type { Log } from "@/wire/keeping";
import { Button } from "../parts/Button";

const when = (at: number | null) =>
  at === null ? "" : new Date(at).toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit", second: "2-digit" });
const asText = ({ about, lines }: Log) =>
  [...about.map((a) => `${a.what}: ${a.is}`), "", ...lines.map((l) => `${when(l.at)} ${l.text}`.trim())].join("\n");

/** What the program has said, and what it runs on: to be read, and copied for somebody who helps. */
export function LogView() {
  const { data, error, refetch } = useQuery({ queryKey: ["log"], queryFn: fetchLog });
  const copy = async (log: Log) => {
    try {
      await navigator.clipboard.writeText(asText(log));
      toast.success("Copied: paste it into your message.");
    } catch {
      toast.error("The browser does not let this page copy: mark the text and copy it yourself.");
    }
  };
  return (
    <main className="mx-auto max-w-[1180px] px-6 py-6">
      <div className="mb-4 flex items-center gap-3">
        <h1 className="text-[20px]">What Umber Moth has said</h1>
        <span className="flex-1" />
        <Button onClick={() => void refetch()}>Look again</Button>
        <Button tone="main" disabled={!data} onClick={() => data && void copy(data)}>
          Copy all for somebody who helps
        </Button>
        <Link className="text-dim underline hover:text-bone" href="/">
          Back to the productions
        </Link>
      </div>
      {error && (
        <p role="alert" className="text-brick">
          {error.message}
        </p>
      )}
      {data && (
        <>
          <dl className="mb-5 grid max-w-[760px] grid-cols-[140px_1fr] gap-y-1">
            {data.about.map((a) => (
              <div key={a.what} className="contents">
                <dt className="text-dim">{a.what}</dt>
                <dd className="num">{a.is}</dd>
              </div>
            ))}
          </dl>
          {data.lines.length ? (
            <ol aria-label="Messages" className="divide-y divide-line border-y border-line">
              {data.lines.map((l, i) => (
                <li key={i} className="flex gap-4 py-1">
                  <span className="num w-[150px] shrink-0 text-dim">{when(l.at)}</span>
                  <span className={clsx("min-w-0 break-words whitespace-pre-wrap", l.grave && "text-brick")}>{l.text}</span>
                </li>
              ))}
            </ol>
          ) : (
            <p className="text-dim">Nothing so far.</p>
          )}
          <p className="mt-3 text-[12px] text-dim">
            Your own folder is written as ~. Nothing is sent anywhere: what you copy goes where you paste it.
          </p>
        </>
      )}
    </main>
  );
}
