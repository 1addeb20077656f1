import { execFileSync, spawn } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

/** One row of the table: what we give, what must be reached, and the outside judge of the same run. */
export interface Row {
  what: string;
  ours: string;
  reach: string;
  judge: string;
  ok: boolean;
  /** How fast the machine was in the same minute. */
  machine?: string;
}

/** The first number of a figure, and whether less of it is better: as what is to be reached says, or of times and memory. */
export function figureOf(ours: string, reach: string): { value: number; less: boolean } | null {
  const m = /^(-?\d+(?:\.\d+)?)\s*(ms|s|MB|fps|dB|of)?/.exec(ours);
  return m ? { value: Number(m[1]), less: /[<≤]/.test(reach) || (!/[>≥]/.test(reach) && ["ms", "s", "MB"].includes(m[2])) } : null;
}

export const root = new URL("..", import.meta.url).pathname;
const dir = mkdtempSync(join(tmpdir(), "umber-bench-"));
/** A file of this run. */
export const file = (n: string) => join(dir, n);

const sorted = (v: number[]) => v.toSorted((a, b) => a - b);
export const median = (v: number[]) => sorted(v)[Math.floor(v.length / 2)];
export const p95 = (v: number[]) => sorted(v)[Math.ceil(v.length * 0.95) - 1];

export const ff = (...args: string[]) => execFileSync("ffmpeg", ["-v", "error", "-nostdin", "-y", ...args]);
export const cli = (...args: string[]) => execFileSync(process.execPath, [join(root, "dist/cli.mjs"), ...args], { stdio: "ignore" });

export async function seconds(run: () => unknown): Promise<number> {
  const a = performance.now();
  await run();
  return (performance.now() - a) / 1000;
}

/** Both sides in turn; the median of each. */
export async function against(ours: () => unknown, judge: () => unknown, runs = 5): Promise<[number, number]> {
  const a: number[] = [];
  const b: number[] = [];
  for (let i = 0; i < runs; i++) {
    a.push(await seconds(ours));
    b.push(await seconds(judge));
  }
  return [median(a), median(b)];
}

export async function repeated(runs: number, run: (i: number) => unknown): Promise<number[]> {
  const v: number[] = [];
  for (let i = 0; i < runs; i++) v.push(await seconds(() => run(i)));
  return v;
}

/** Most memory (MB) of a process and all below it while it runs. */
export function peakMemory(program: string, args: string[]): Promise<number> {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { stdio: "ignore" });
    let most = 0;
    const timer = setInterval(() => (most = Math.max(most, memoryBelow(child.pid!))), 100);
    child.on("close", (code) => {
      clearInterval(timer);
      if (code === 0) resolve(most);
      else reject(new Error(`${program} ended with ${code}`));
    });
  });
}

/** Resident memory (MB) of a process and all below it. */
function memoryBelow(pid: number): number {
  const kids = new Map<number, number[]>();
  const rss = new Map<number, number>();
  for (const p of readdirSync("/proc").filter((x) => /^\d+$/.test(x))) {
    try {
      const stat = readFileSync(`/proc/${p}/stat`, "latin1");
      const parent = Number(stat.slice(stat.lastIndexOf(")") + 2).split(" ")[1]);
      kids.set(parent, [...(kids.get(parent) ?? []), Number(p)]);
      rss.set(Number(p), Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${p}/status`, "latin1"))?.[1] ?? 0));
    } catch {
      // it ended while we looked
    }
  }
  const sum = (p: number): number => (rss.get(p) ?? 0) + (kids.get(p) ?? []).reduce((n, k) => n + sum(k), 0);
  return sum(pid) / 1024;
}
