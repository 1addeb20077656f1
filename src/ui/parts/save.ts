"use client";
import { toast } from "sonner";

/** Downloads what an address answers, or shows its sentence when it refuses. @param signal leaves it off, without a word */
export async function saveFile(url: string, signal?: AbortSignal): Promise<void> {
  try {
    const r = await fetch(url, { cache: "no-store", signal });
    if (!r.ok) throw new Error(((await r.json()) as { error: string }).error);
    const name = decodeURIComponent(/filename\*=UTF-8''([^;]+)/.exec(r.headers.get("content-disposition") ?? "")?.[1] ?? "picture.png");
    const a = document.createElement("a");
    a.href = URL.createObjectURL(await r.blob());
    a.download = name;
    a.click();
    setTimeout(() => URL.revokeObjectURL(a.href), 10_000);
    toast(`Saved ${name}.`);
  } catch (e) {
    if (signal?.aborted) return;
    toast.error(e instanceof Error ? e.message : String(e));
  }
}
