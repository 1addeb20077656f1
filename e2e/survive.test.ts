import { mkdtempSync, readdirSync, readFileSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { WebDriver } from "selenium-webdriver";
import type chrome from "selenium-webdriver/chrome.js";
import { afterAll, beforeAll, expect, it } from "vitest";
import type { ShotDocument } from "../src/wire/shot";
import { type App, until } from "./support/app";
import { startReady } from "./support/ready";
import { ffmpeg } from "../testkit/ffmpeg";
import { EditorDriver, By, downloads, Key, openBrowser } from "./support/browser";

/** Web and engine are killed at bad moments; what was acknowledged is there, undo included. */
let app: App;
let d: WebDriver;
let b: EditorDriver;

beforeAll(async () => {
  app = await startReady();
  d = await openBrowser(downloads());
  b = new EditorDriver(d);
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

const shotId = async () => /shots\/([\w-]+)/.exec(await d.getCurrentUrl())![1];
const document = async () =>
  until("the shot's document", async () => {
    const r = await fetch(`${app.url}/api/shots/${await shotId()}`);
    return r.ok && ((await r.json()) as ShotDocument);
  });
const layerNow = async () => {
  const l = (await document()).recipe.intruders[0].layers[0];
  if (l.kind !== "patch" || "use" in l.mask) throw new Error("no patch");
  return { layer: l, mask: l.mask };
};

it("after kill -9 of the engine, edits go on from where they stood, and every acknowledged one is there", async () => {
  await until(
    "the take",
    async () => ((await (await fetch(`${app.url}/api/state`)).json()) as { productions: { shots: unknown[] }[] }).productions[0]?.shots.length,
  );
  await b.open(app.url, "Ticket hall");
  await b.keys("p", "3");
  await b.drag([
    [500, 100],
    [700, 260],
  ]);
  await b.saved();
  await b.field("Feather", "33");
  await b.saved();
  process.kill(app.pids().engine, "SIGKILL");
  // an edit made while the engine is away waits, is sent again, and is stored once
  await b.field("Grow", "5");
  await b.saved();
  const { mask } = await layerNow();
  expect([mask.feather, mask.grow]).toEqual([33, 5]);
});

it("after kill -9 of the web process and a reload, all is there and can be undone step by step", async () => {
  process.kill(app.pids().web, "SIGKILL");
  await until("the page to come back", async () => {
    await d.navigate().refresh();
    return until("the editor", () => d.findElement(By.css('[data-testid="frame"]')), 30_000);
  });
  await b.exact();
  await b.chord(Key.CONTROL, "z");
  await until("grow undone", async () => ((await layerNow()).mask.grow ?? 0) === 0);
  process.kill(app.pids().engine, "SIGKILL");
  await until("the engine", async () => (await fetch(`${app.url}/api/state`)).ok);
  await b.chord(Key.CONTROL, "z");
  await until("feather undone", async () => (await layerNow()).mask.feather === 12);
  await b.chord(Key.CONTROL, Key.SHIFT, "z");
  await until("feather redone", async () => (await layerNow()).mask.feather === 33);
});

it("a render that was cut off by kill -9 is shown as stopped, leaves no file, and runs again", async () => {
  await (await b.byText("Render")).click();
  await d.findElement(By.xpath("//aside[@aria-label='Card']//button[normalize-space(.)='Render']")).click();
  await until("progress", async () => Number(await (await b.find("[data-testid=job] [role=progressbar]")).getAttribute("aria-valuenow")) > 3);
  process.kill(app.pids().engine, "SIGKILL");
  await until("the engine", async () => (await fetch(`${app.url}/api/state`)).ok);
  const jobs = (await (await fetch(`${app.url}/api/shots/${await shotId()}/renders`)).json()) as { state: string; error: string }[];
  expect(jobs[0]).toMatchObject({ state: "stopped", error: expect.stringContaining("can be run again") as string });
  expect(readdirSync(join(app.data, "renders"))).toEqual([]);
  await d.navigate().refresh();
  await b.exact();
  await (await b.byText("Render")).click();
  await (await b.byLabel("Run again")).click();
  await until("the render", async () => (await (await b.find("[data-testid=job]")).getAttribute("data-state")) === "done");
});

it("a repeated edit id gets its first answer, and a stale base is told what happened since", async () => {
  const id = await shotId();
  const { rev, recipe } = await document();
  const before = recipe.intruders[0].name;
  const send = (editId: string, base: number, name: string) =>
    fetch(`${app.url}/api/shots/${id}/edits`, {
      method: "POST",
      headers: { "content-type": "application/json", origin: app.url },
      body: JSON.stringify({
        editId,
        base,
        name: `Name it ${name}`,
        patches: [{ op: "replace", path: ["intruders", 0, "name"], value: name }],
        inverse: [{ op: "replace", path: ["intruders", 0, "name"], value: before }],
      }),
    });
  const first = (await (await send("edit-id-1", rev, "One")).json()) as { rev: number };
  expect(first.rev).toBe(rev + 1);
  expect(await (await send("edit-id-1", rev, "One")).json()).toMatchObject({ rev: first.rev });
  const stale = await send("edit-id-2", rev, "Two");
  expect(stale.status).toBe(409);
  expect(await stale.json()).toMatchObject({ rev: first.rev, since: [{ rev: first.rev, name: "Name it One" }] });
  const invalid = await fetch(`${app.url}/api/shots/${id}/edits`, {
    method: "POST",
    headers: { "content-type": "application/json", origin: app.url },
    body: JSON.stringify({
      editId: "edit-id-3",
      base: first.rev,
      name: "bad",
      patches: [{ op: "replace", path: ["shot", "out"], value: -4 }],
      inverse: [{ op: "replace", path: ["shot", "out"], value: 95 }],
    }),
  });
  expect([invalid.status, ((await invalid.json()) as { error: string }).error]).toEqual([422, expect.stringContaining("shot.out: found -4")]);
  // the open page follows
  await until("the new name on the page", async () => (await (await b.find("[aria-label=Ledger]")).getText()).includes("One"));
});

it("a film that is being sent when the web process is killed goes on by itself where it stopped, and arrives whole", async () => {
  const folder = mkdtempSync(join(tmpdir(), "umber-send-"));
  const film = join(folder, "storm.mkv");
  // noise does not compress: some 15 MB
  ffmpeg(["-v", "error", "-f", "lavfi", "-i", "nullsrc=s=640x360:r=25:d=1,geq=random(1)*255:128:128", "-pix_fmt", "yuv420p", "-c:v", "ffv1", film]);
  await d.get(app.url);
  await b.home();
  const input = await d.findElement(By.css("input[type=file]"));
  // a slow line, in bytes per second
  await (d as chrome.Driver).setNetworkConditions({ offline: false, latency: 1, download_throughput: 50e6, upload_throughput: 1.5e6 });
  await input.sendKeys(film);
  const arrived = () => {
    const part = readdirSync(join(app.data, "incoming")).find((f) => f.startsWith("upload-"));
    return part ? (statSync(join(app.data, "incoming", part), { throwIfNoEntry: false })?.size ?? 0) : 0;
  };
  const before = await until("a part of the film", () => Promise.resolve(arrived() > 500_000 && arrived()));
  process.kill(app.pids().web, "SIGKILL");
  let least = Infinity;
  await until("the film to go on", () => {
    const now = arrived();
    if (now) least = Math.min(least, now);
    return Promise.resolve(now > before + 1_000_000);
  });
  expect(least).toBeGreaterThanOrEqual(before);
  await (d as chrome.Driver).setNetworkConditions({ offline: false, latency: 0, download_throughput: 500e6, upload_throughput: 500e6 });
  const take = await until("the take", async () => {
    const { productions } = (await (await fetch(`${app.url}/api/state`)).json()) as {
      productions: { takes: { id: string; name: string; state: string }[] }[];
    };
    return productions[0].takes.find((t) => t.name === "storm.mkv" && t.state === "ready");
  });
  const kept = readdirSync(join(app.data, "takes", take.id)).find((f) => f.startsWith("original"))!;
  expect(readFileSync(join(app.data, "takes", take.id, kept)).equals(readFileSync(film))).toBe(true);
});

it("what happened is on a page of its own, with what a helper would ask for", async () => {
  await (await until("the way there", () => d.findElement(By.linkText("What the program has said")))).click();
  const said = await until("the messages", async () => {
    const text = await (await d.findElement(By.css("main"))).getText();
    return text.includes("web process ended") && text;
  });
  expect(said).toMatch(/Umber Moth\s+\d+\.\d+\.\d+/);
  expect(said).toMatch(/Node\s+v\d+/);
  expect(said).toMatch(/ffmpeg\s+\S+/);
  expect(said).toContain("The engine process ended (killed); it is started again.");
  expect(statSync(join(app.data, "log", "umber.log")).mode & 0o077).toBe(0);
});
