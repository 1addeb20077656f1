"use client";
import { FileText, X } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import { reportUrl, stopTask } from "@/client/api";
import { listen } from "@/client/events";
import { uuid } from "@/client/uuid";
import type { ReportForm } from "@/wire/proof";
import { Button } from "./Button";
import { saveFile } from "./save";

const FORMS: readonly (readonly [ReportForm, string, string])[] = [
  ["html", "A page with pictures", "HTML, stands alone"],
  ["csv", "A table", "CSV"],
  ["json", "Data", "JSON"],
];

/** What is still wrong in a shot, or in all shots of a production, as a file for others. */
export function ReportMenu({ of, id, name }: { of: "shot" | "production"; id: string; name: string }) {
  const [making, setMaking] = useState<{ task: string; share: number } | null>(null);
  const leave = useRef<AbortController>(null);
  const task = making?.task;
  useEffect(
    () =>
      task
        ? listen(
            (e) => {
              if (e.type === "task" && e.id === task) setMaking({ task, share: e.done / Math.max(1, e.total) });
            },
            () => undefined,
          )
        : undefined,
    [task],
  );
  const save = async (as: ReportForm) => {
    const own = { task: uuid(), share: 0 };
    leave.current = new AbortController();
    setMaking(own);
    await saveFile(reportUrl(of, id, as, own.task), leave.current.signal);
    setMaking(null);
  };
  const stop = () => {
    if (task) void stopTask(task).catch(() => undefined);
    leave.current?.abort();
  };
  if (making)
    return (
      <Button onClick={stop} aria-label={`Stop the report on ${name}`}>
        <X size={14} aria-hidden /> Stop ({Math.floor(100 * making.share)} %)
      </Button>
    );
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button aria-label={`Report on ${name}`}>
          <FileText size={14} aria-hidden /> Report
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 min-w-[210px] rounded-lg border border-line bg-panel p-1 text-[13px] shadow-lg"
        >
          {FORMS.map(([as, words, kind]) => (
            <DropdownMenu.Item
              key={as}
              onSelect={() => void save(as)}
              className="flex cursor-pointer items-center gap-3 rounded-md px-2 py-1.5 outline-none data-[highlighted]:bg-raised data-[highlighted]:text-bone"
            >
              <span className="flex-1">{words}</span>
              <span className="text-[12px] text-dim">{kind}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
