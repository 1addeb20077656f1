"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { changeCache, fetchCache } from "@/client/api";
import { Button } from "../parts/Button";

const gb = (b: number) => (b / 1e9).toFixed(b < 1e10 ? 1 : 0);

/** How much room exact frames take on disk, how much they may, and a way to give it back. */
export function CacheLine() {
  const client = useQueryClient();
  const cache = useQuery({ queryKey: ["cache"], queryFn: fetchCache, refetchInterval: 5000 });
  const [text, setText] = useState<string | null>(null);
  const change = async (c: Parameters<typeof changeCache>[0]) => {
    try {
      client.setQueryData(["cache"], await changeCache(c));
    } catch (e) {
      toast.error(e instanceof Error ? e.message : String(e));
    }
    setText(null);
  };
  if (!cache.data) return null;
  const { used, limit } = cache.data;
  const commit = () => {
    const v = Number(text);
    if (text === null) return;
    if (Number.isFinite(v) && v >= 0.1 && v <= 100_000) void change({ limit: v * 1e9 });
    else setText(null);
  };
  return (
    <div className="mt-6 flex items-center gap-3 text-dim">
      <span>
        Decoded frames on disk: <span className="num">{gb(used)}</span> GB of
      </span>
      <label className="flex items-center gap-1.5">
        <input
          aria-label="Most room for decoded frames, in GB"
          inputMode="decimal"
          className="num h-7 w-16 rounded-md border border-line bg-ground px-2 text-right text-bone"
          value={text ?? gb(limit)}
          onChange={(e) => setText(e.target.value)}
          onBlur={commit}
          onKeyDown={(e) => e.key === "Enter" && commit()}
        />
        GB
      </label>
      <Button disabled={!used} onClick={() => void change({ empty: true })}>
        Free this room
      </Button>
      <span className="text-[12px]">They are made again when they are needed.</span>
    </div>
  );
}
