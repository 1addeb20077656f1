"use client";
import { FileText } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { toast } from "sonner";
import { reportUrl } from "@/client/api";
import type { ReportForm } from "@/wire/proof";
import { saveFile } from "../panels/save";
import { Button } from "./Button";

const FORMS: readonly (readonly [ReportForm, string, string])[] = [
  ["html", "A page with pictures", "HTML, stands alone"],
  ["csv", "A table", "CSV"],
  ["json", "Data", "JSON"],
];

/** What is still wrong in a shot, or in all shots of a production, as a file for others. */
export function ReportMenu({ of, id, name }: { of: "shot" | "production"; id: string; name: string }) {
  const [making, setMaking] = useState(false);
  const save = async (as: ReportForm) => {
    setMaking(true);
    if (of === "production") toast("The report is being made. Shots that were not measured yet take a while.");
    await saveFile(reportUrl(of, id, as));
    setMaking(false);
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button disabled={making} aria-label={`Report on ${name}`}>
          <FileText size={14} aria-hidden /> {making ? "Being made …" : "Report"}
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
