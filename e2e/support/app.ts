import { spawn } from "node:child_process";
import { mkdtemp, rm } from "node:fs/promises";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";

export const ROOT = new URL("../..", import.meta.url).pathname;

/** A port nobody has, below those that the system gives to connections on their way out: one of these would be gone again before it is used. */
async function freePort(): Promise<number> {
  for (;;) {
    const port = 20_000 + Math.floor(12_000 * Math.random());
    const free = await new Promise<boolean>((resolve) => {
      const s = createServer()
        .once("error", () => resolve(false))
        .listen(port, "127.0.0.1", () => s.close(() => resolve(true)));
    });
    if (free) return port;
  }
}

export interface App {
  url: string;
  data: string;
  pids: () => { launcher: number; engine: number; web: number };
  /** What it has printed. */
  said: () => string;
  stop: () => Promise<void>;
}

/** Starts the whole program, as its user does, on a data folder of its own. */
export async function startApp(command: "demo" | "start", data?: string, more: Record<string, string> = {}): Promise<App> {
  const folder = data ?? (await mkdtemp(join(tmpdir(), "umber-e2e-")));
  const port = await freePort();
  const child = spawn(join(ROOT, "umber"), [command], {
    cwd: ROOT,
    env: { ...process.env, PORT: String(port), UMBER_DATA: folder, UMBER_PIDS: "1", UMBER_LOG: "warn", UMBER_DEMO: "hall", ...more },
    stdio: ["ignore", "pipe", "pipe"],
  });
  let out = "";
  child.stdout.on("error", () => undefined);
  child.stderr.on("data", (d: Buffer) => {
    out += String(d);
    if (process.env.UMBER_SHOW) process.stderr.write(d);
  });
  await new Promise<void>((resolve, reject) => {
    child.stdout.on("data", (d: Buffer) => {
      out += String(d);
      if (/Umber Moth is at/.test(out)) resolve();
    });
    child.once("close", () => reject(new Error(out)));
  });
  return {
    url: `http://127.0.0.1:${port}`,
    data: folder,
    pids: () => {
      const last = (name: string) => Number([...out.matchAll(new RegExp(`^${name} (\\d+)$`, "gm"))].at(-1)![1]);
      return { launcher: child.pid!, engine: last("engine"), web: last("web") };
    },
    said: () => out,
    stop: async () => {
      if (child.exitCode === null && child.signalCode === null) {
        child.kill("SIGTERM");
        await new Promise((r) => child.once("close", r));
      }
      if (!data) await rm(folder, { recursive: true, force: true, maxRetries: 20, retryDelay: 250 });
    },
  };
}

/** Whether a process is there. */
export function lives(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

/** Waits until `test` answers something true. */
export async function until<T>(what: string, test: () => Promise<T | null | undefined | false>, ms = 900_000): Promise<T> {
  const end = Date.now() + ms;
  let last: unknown = null;
  while (Date.now() < end) {
    try {
      const v = await test();
      if (v) return v;
    } catch (e) {
      last = e;
    }
    await new Promise((r) => setTimeout(r, 120));
  }
  throw new Error(`waited ${ms} ms in vain for ${what}${last ? `: ${String(last)}` : ""}`);
}
