"use client";
import { createColumnHelper, flexRender, getCoreRowModel, getSortedRowModel, type SortingState, useReactTable } from "@tanstack/react-table";
import clsx from "clsx";
import { useEffect, useMemo, useState } from "react";
import { type Finding, severity } from "@/core/proof/finding";
import { takeOf } from "@/client/editor/state/select";
import { useEditor, useEditorState } from "../../editor/context";
import { useCounting } from "../../editor/usePreferences";
import { zoomTo } from "../../viewer/zoom";
import { FramePicture } from "../FramePicture";
import { FindingDetail } from "./FindingDetail";
import { KIND_WORDS } from "@/core/proof/words";

const column = createColumnHelper<Finding>();

/** How far beyond its limit a finding is, as a share of a bar that ends at eight times it. */
const times = (f: Finding) => f.value / Math.max(f.limit, 0.5);
const share = (f: Finding) => Math.min(1, Math.log2(Math.max(1, times(f))) / 3);

/** The findings, what a viewer notices first on top; the one that is looked at is shown in the picture where it is worst. */
export function FindingTable({ findings, at }: { findings: readonly Finding[]; at: number | null }) {
  const editor = useEditor();
  const take = useEditorState(takeOf);
  const { show } = useCounting();
  const [sorting, setSorting] = useState<SortingState>([]);
  const columns = useMemo(
    () => [
      column.accessor((f) => KIND_WORDS[f.kind], { id: "kind", header: "Finding" }),
      column.accessor("worst", { header: "Frames" }),
      column.accessor(severity, { id: "bad", header: "How bad", sortDescFirst: true }),
    ],
    [],
  );
  const table = useReactTable({
    data: findings as Finding[],
    columns,
    state: { sorting },
    onSortingChange: setSorting,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  });
  const looked = at === null ? null : findings[at];
  useEffect(() => {
    if (looked) zoomTo(editor, looked.box);
  }, [editor, looked]);
  return (
    <table className="w-full border-collapse text-left" aria-label="Findings">
      <thead>
        {table.getHeaderGroups().map((g) => (
          <tr key={g.id} className="border-b border-line text-[12px] text-dim">
            {g.headers.map((h) => {
              const sorted = h.column.getIsSorted();
              return (
                <th
                  key={h.id}
                  scope="col"
                  aria-sort={sorted ? (sorted === "asc" ? "ascending" : "descending") : "none"}
                  className="px-1.5 py-1 font-normal first:pl-3.5 last:pr-3.5"
                >
                  <button type="button" className="rounded hover:text-bone" onClick={h.column.getToggleSortingHandler()}>
                    {flexRender(h.column.columnDef.header, h.getContext())}
                    <span aria-hidden>{sorted === "asc" ? " ▴" : sorted === "desc" ? " ▾" : ""}</span>
                  </button>
                </th>
              );
            })}
          </tr>
        ))}
      </thead>
      {table.getRowModel().rows.map((row) => {
        const f = row.original;
        const here = row.index === at;
        return (
          <tbody key={row.id} className={clsx("border-b border-l-2 border-b-line", here ? "border-l-ochre bg-raised" : "border-l-transparent")}>
            <tr className="cursor-pointer" onClick={() => editor.proving.look(row.index)}>
              <td className="py-2 pl-3">
                <button type="button" aria-pressed={here} className="flex items-center gap-2 rounded text-left">
                  <FramePicture take={take} frame={f.worst} box={f.box} className="w-[72px] shrink-0" />
                  <span className="font-semibold">{KIND_WORDS[f.kind]}</span>
                </button>
              </td>
              <td className="num px-1.5 whitespace-nowrap">{f.in === f.out ? show(f.in) : `${show(f.in)}–${show(f.out)}`}</td>
              <td className="pr-3.5 pl-1.5">
                <span
                  className="block h-1.5 w-full min-w-[48px] overflow-hidden rounded bg-ground"
                  role="img"
                  aria-label={`${times(f).toFixed(1)} times its limit`}
                  title={`${times(f).toFixed(1)} times its limit`}
                >
                  <span className="block h-full bg-brick" style={{ width: `${Math.max(8, 100 * share(f))}%` }} />
                </span>
              </td>
            </tr>
            {here && (
              <tr>
                <td colSpan={3} className="px-3.5 pb-3">
                  <FindingDetail finding={f} />
                </td>
              </tr>
            )}
          </tbody>
        );
      })}
    </table>
  );
}
