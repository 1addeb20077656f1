"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { clearUnnamed, fetchUnnamed } from "@/client/api";
import { Button } from "../parts/Button";

const size = (b: number) => (b < 1e9 ? `${(b / 1e6).toFixed(1)} MB` : `${(b / 1e9).toFixed(1)} GB`);

/** Pictures and built plates that nothing uses any more, where there are any. */
export function UnnamedLine() {
  const client = useQueryClient();
  const { data } = useQuery({ queryKey: ["unnamed"], queryFn: fetchUnnamed });
  if (!data?.count) return null;
  const clear = async () => {
    try {
      client.setQueryData(["unnamed"], await clearUnnamed());
    } catch (e) {
      toast.error(e instanceof Error ? e.message : String(e));
    }
  };
  return (
    <p className="mt-3 flex items-center gap-3 text-dim">
      <span>
        Pictures and built plates that no shot and no step of a history uses: <span className="num">{size(data.bytes)}</span>
      </span>
      <Button onClick={() => void clear()}>Clear them</Button>
      <span className="text-[12px]">Else they go by themselves after 30 days.</span>
    </p>
  );
}
