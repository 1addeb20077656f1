import { cp, mkdir, mkdtemp, rm, writeFile } from "node:fs/promises";
import { existsSync, readFileSync, statSync } from "node:fs";
import { createHash } from "node:crypto";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type App, ROOT, startApp, until } from "./app";
import { Session } from "./session";

/** Names what a data folder was made by: the checkout whose takes it reads in place, the program that is built, and the takes. */
function mark(): string {
  const h = createHash("sha256").update(ROOT);
  for (const f of ["dist/engine.mjs", "dist/job.mjs", "demo/takes/hall.mp4"]) h.update(readFileSync(join(ROOT, f)));
  return h.digest("hex").slice(0, 16);
}

/** Where the whole demo production lies read and surveyed; its stills are used from here, so it stays where it was made. */
async function ready(): Promise<string> {
  const made = join(tmpdir(), `umber-ready-${mark()}`);
  const [done, lock] = [`${made}.done`, `${made}.lock`];
  while (!existsSync(done)) {
    // another test may be making it; one that was stopped in between leaves its lock behind
    const mine = await mkdir(lock).then(
      () => true,
      () => false,
    );
    if (mine)
      try {
        if (!existsSync(done)) await make(made);
        await writeFile(done, "");
      } finally {
        await rm(lock, { recursive: true, force: true });
      }
    else {
      await new Promise((r) => setTimeout(r, 500));
      if (existsSync(lock) && Date.now() - statSync(lock).mtimeMs > 3_600_000) await rm(lock, { recursive: true, force: true });
    }
  }
  return made;
}

/** Takes of which no test asks what was measured. */
const UNSURVEYED = ["Quay.mp4", "Lantern.mp4", "Ticket office, second take.mp4"];

async function make(folder: string): Promise<void> {
  await rm(folder, { recursive: true, force: true });
  await mkdir(folder);
  const app = await startApp("demo", folder, { UMBER_DEMO: "1" });
  const s = new Session(app);
  await until("all takes to be read", async () => (await s.takes()).length === 7 && (await s.takes()).every((t) => t.state === "ready"), 3_000_000);
  for (const t of (await s.takes()).filter((x) => !UNSURVEYED.includes(x.name)))
    await until(`the survey of ${t.name}`, async () => (await s.get<{ survey: unknown }>(`/api/takes/${t.id}/survey`)).survey, 3_000_000);
  // tests of other things lay what they lay, and nothing more by itself
  await s.post("/api/preferences", { matching: "hand" });
  await app.stop();
}

/** Copies what is ready into a data folder of one's own. What reads and surveys takes is tested where it is asked for. */
export const intoFolder = async (data: string): Promise<void> => cp(await ready(), data, { recursive: true });

/** Starts the whole program on the demo production, all of which is read and surveyed. */
export async function startReady(): Promise<App> {
  const data = await mkdtemp(join(tmpdir(), "umber-e2e-"));
  await intoFolder(data);
  const app = await startApp("demo", data, { UMBER_DEMO: "1" });
  return {
    ...app,
    stop: async () => {
      await app.stop();
      await rm(data, { recursive: true, force: true, maxRetries: 20, retryDelay: 250 });
    },
  };
}
