import { createHash } from "node:crypto";
import { execFileSync } from "node:child_process";
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { By, Key, type WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, expect, it } from "vitest";
import type { Production, ShotDocument } from "../src/wire/shot";
import { type App, startApp, until } from "./support/app";
import { EditorDriver, downloads, openBrowser } from "./support/browser";

/** Footage used where it lies, stills, originals that move or change, and taking things away again; by hand on the first page. */
const media = mkdtempSync(join(tmpdir(), "umber-media-"));
const outside = mkdtempSync(join(tmpdir(), "umber-outside-"));
let app: App;
let d: WebDriver;
let b: EditorDriver;

const PROBE = ["-v", "error", "-select_streams", "v", "-of", "csv=p=0"];
const ff = (...args: string[]) => execFileSync("ffmpeg", ["-v", "error", "-y", ...args]);
const film = (path: string, hue = 0) =>
  ff("-f", "lavfi", "-i", `testsrc2=s=160x96:r=25:d=2,hue=h=${hue}`, "-pix_fmt", "yuv420p", "-c:v", "libx264", "-preset", "ultrafast", path);
const productions = async () => ((await (await fetch(`${app.url}/api/state`)).json()) as { productions: Production[] }).productions;
const take = async (name: string) => (await productions()).flatMap((p) => p.takes).find((t) => t.name === name);
const ready = (name: string) => until(name, async () => ((await take(name))?.state === "ready" ? take(name) : null));
const shotOf = async (name: string) => (await productions()).flatMap((p) => p.shots).find((s) => s.name === name)!;
const document = async (name: string) => (await (await fetch(`${app.url}/api/shots/${(await shotOf(name)).id}`)).json()) as ShotDocument;
const press = (text: string) =>
  until(text, async () => {
    const button = await d.findElement(By.xpath(`//*[@role='dialog']//button[contains(., ${JSON.stringify(text)})]`));
    if (!(await button.isEnabled())) return false;
    await button.click();
    return true;
  });
const sum = (f: string) => createHash("md5").update(readFileSync(f)).digest("hex");

beforeAll(async () => {
  mkdirSync(join(media, "day 1", "frames"), { recursive: true });
  film(join(media, "day 1", "a.mp4"));
  film(join(media, "b.mp4"), 90);
  film(join(outside, "secret.mp4"));
  symlinkSync(outside, join(media, "way out"));
  ff("-f", "lavfi", "-i", "testsrc2=s=120x80:r=12", "-frames:v", "9", join(media, "day 1", "frames", "x_%03d.png"));
  app = await startApp("start", undefined, { UMBER_MEDIA: media });
  d = await openBrowser(downloads());
  b = new EditorDriver(d);
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

it("uses a film and numbered stills from a media folder where they lie, chosen on the page", async () => {
  const before = sum(join(media, "day 1", "a.mp4"));
  await d.get(app.url);
  await b.home();
  await (await b.byText("Use footage where it lies")).click();
  await press(media.split("/").at(-1)!);
  await press("day 1");
  await press("a.mp4");
  await press("Make a take of it");
  await ready("a.mp4");
  await (await b.byText("Use footage where it lies")).click();
  await press(media.split("/").at(-1)!);
  await press("day 1");
  await press("frames");
  await press("x_###.png");
  const rate = await d.findElement(By.xpath("//*[@role='dialog']//label[contains(., 'Stills a second')]//input"));
  await rate.clear();
  await rate.sendKeys("12");
  await press("Make a take of it");
  const stills = await ready("x_###.png");
  expect([stills!.info!.frames, stills!.info!.rate, stills!.info!.width]).toEqual([9, [12, 1], 120]);
  // nothing was copied, and the original was not touched
  const copies = readdirSync(join(app.data, "takes"), { recursive: true }).filter((f) => String(f).includes("original"));
  expect([copies, sum(join(media, "day 1", "a.mp4"))]).toEqual([[], before]);
  await b.open(app.url, "x");
});

it("shows nothing outside the media folders, by dots or by links", async () => {
  const list = (path: string) => fetch(`${app.url}/api/media/list?${new URLSearchParams({ root: "0", path })}`);
  expect((await list("day 1")).status).toBe(200);
  for (const path of ["..", "../..", "day 1/../..", "way out", "/etc", "day 1/\0", "%2e%2e"]) {
    const r = await list(path);
    expect([path, r.status, ((await r.json()) as { error: string }).error]).toEqual([path, 422, expect.stringContaining("no such folder or file")]);
  }
  const use = await fetch(`${app.url}/api/media/use`, {
    method: "POST",
    headers: { "content-type": "application/json", origin: app.url },
    body: JSON.stringify({ productionId: null, root: 0, path: "way out/secret.mp4" }),
  });
  expect(use.status).toBe(422);
});

it("several stills dropped together become one take at the rate that is asked for", async () => {
  await d.get(app.url);
  await b.home();
  await ready("a.mp4");
  const files = readdirSync(join(media, "day 1", "frames")).map((f) => join(media, "day 1", "frames", f));
  const gap = files.filter((f) => !f.includes("004"));
  await (await d.findElement(By.css("input[type=file]"))).sendKeys(gap.join("\n"));
  await press("Make the take");
  const t = await until("the second take of stills", async () =>
    (await productions())[0].takes.find((x) => x.name === "x_###.png" && x.info?.frames === 8 && x.state === "ready"),
  );
  expect(t.info!.rate).toEqual([24, 1]);
  expect(t.info!.notes.join()).toContain("4 are missing");
});

it("finds a moved original by itself, asks for one it cannot find, and refuses another file in its place", async () => {
  renameSync(join(media, "day 1", "a.mp4"), join(media, "moved.mp4"));
  expect((await document("a")).takes.a.trouble).toBeNull();
  await fetchJson("/api/cache", { empty: true });
  const frame = await fetch(`${app.url}/api/takes/${(await take("a.mp4"))!.id}/frames/30`);
  expect([frame.status, frame.status === 200 ? "" : await frame.text()]).toEqual([200, ""]);
  // gone where nothing looks: the page says so, and lets it be shown
  renameSync(join(media, "moved.mp4"), join(outside, "away.mp4"));
  expect((await document("a")).takes.a.trouble).toContain("is not where it was");
  await b.open(app.url, "x");
  await d.get(`${app.url}/shots/${(await shotOf("a")).id}`);
  await until("the line over the picture", async () => (await (await b.find("main [role=alert]")).getText()).includes("is not where it was"));
  const render = () => fetchJson(`/api/shots/${shotId}/renders`, { codec: "ffv1" });
  const shotId = (await shotOf("a")).id;
  expect(await render()).toMatchObject({ status: 422, error: expect.stringContaining("is not where it was") as string });
  await d.get(app.url);
  await b.home();
  const place = async (name: string) => {
    await (await b.byText("Show where it is now")).click();
    await press(media.split("/").at(-1)!);
    await press(name);
    await press("It is this one");
  };
  await place("b.mp4");
  await until("the refusal", async () =>
    (await (await b.find("[aria-label='Files on their way'] [role=alert]")).getText()).includes("is not the original of “a.mp4”"),
  );
  mkdirSync(join(media, "f1", "f2", "f3", "f4", "f5", "f6"), { recursive: true });
  copyFileSync(join(outside, "away.mp4"), join(media, "f1", "f2", "f3", "f4", "f5", "f6", "a again.mp4"));
  await (await b.byText("Show where it is now")).click();
  for (const step of [media.split("/").at(-1)!, "f1", "f2", "f3", "f4", "f5", "f6", "a again.mp4"]) await press(step);
  await press("It is this one");
  await until("peace", async () => !(await take("a.mp4"))!.trouble);
  expect((await render()).status).toBe(200);
});

it("notices a changed original by its content, not by its date", async () => {
  const path = join(media, "b.mp4");
  await fetchJson("/api/media/use", { productionId: null, root: 0, path: "b.mp4" });
  await ready("b.mp4");
  const old = readFileSync(path);
  utimesSync(path, new Date(), new Date(Date.now() - 5000));
  expect((await document("b")).takes.a.trouble).toBeNull();
  const other = Buffer.from(old);
  other[other.length - 100] ^= 1;
  writeFileSync(path, other);
  expect((await document("b")).takes.a.trouble).toContain("has changed since it was read");
  writeFileSync(path, old);
  expect((await document("b")).takes.a.trouble).toBeNull();
});

it("names what hangs on a take before it goes, and takes exactly that", async () => {
  await d.get(app.url);
  await b.home();
  await (await b.byLabel("Remove a")).click();
  const words = await until("what goes", async () => (await d.findElement(By.css("[role=dialog] ul"))).getText());
  expect(words).toContain("1 shot with 0 stored edits: a");
  expect(words).toContain("the original stays where it lies");
  const { id } = (await take("a.mp4"))!;
  await press("Remove");
  await until("the take to go", async () => !(await take("a.mp4")));
  await until("its files to go", async () => !existsSync(join(app.data, "takes", id)) && !existsSync(join(app.data, "cache", id)));
  expect(statSync(join(media, "f1", "f2", "f3", "f4", "f5", "f6", "a again.mp4")).size).toBeGreaterThan(0);
  expect((await fetch(`${app.url}/api/takes/${id}/frames/0`)).status).toBe(404);
  await (await b.byLabel("Remove My production")).click();
  expect(await until("what goes", async () => (await d.findElement(By.css("[role=dialog] ul"))).getText())).toContain("1 copy of footage");
  await press("Remove");
  await until("an empty page", async () => (await productions()).length === 0);
  await until("all files to go", async () => !readdirSync(join(app.data, "takes")).length && !readdirSync(join(app.data, "cache")).length);
});

it("shows how much room decoded frames take, and gives it back", async () => {
  await fetchJson("/api/media/use", { productionId: null, root: 0, path: "b.mp4" });
  const t = (await ready("b.mp4"))!;
  await fetch(`${app.url}/api/takes/${t.id}/frames/0`);
  await d.get(app.url);
  await b.home();
  const used = async () => ((await (await fetch(`${app.url}/api/cache`)).json()) as { used: number; limit: number }).used;
  expect(await used()).toBe(160 * 96 * 1.5 * 48); // one block
  await until("the room to be free", async () => {
    if ((await used()) === 0) return true;
    const button = await b.byText("Free this room");
    if (await button.isEnabled()) await button.click();
    return false;
  });
  const limit = await b.byLabel("Most room for decoded frames, in GB");
  await limit.clear();
  await limit.sendKeys("3\n");
  await until("the limit", async () => ((await (await fetch(`${app.url}/api/cache`)).json()) as { limit: number }).limit === 3e9);
  expect((await fetch(`${app.url}/api/takes/${t.id}/frames/0`)).status).toBe(200);
});

async function fetchJson(path: string, body: unknown): Promise<{ status: number; error?: string }> {
  const r = await fetch(app.url + path, {
    method: "POST",
    headers: { "content-type": "application/json", origin: app.url },
    body: JSON.stringify(body),
  });
  return { status: r.status, ...((await r.json()) as object) };
}

it("can be worked on while it is being read: frames so far, patches, and the true count when all is there", async () => {
  const whole = join(outside, "whole.mp4");
  ff("-f", "lavfi", "-i", "testsrc2=s=1280x720:r=25:d=30", "-pix_fmt", "yuv420p", "-c:v", "libx264", "-preset", "ultrafast", "-g", "100", whole);
  // a trim without encoding: its container counts frames that its edit list hides
  ff("-ss", "3", "-i", whole, "-c", "copy", join(media, "long.mp4"));
  const count = Number(execFileSync("ffprobe", [...PROBE, "-count_frames", "-show_entries", "stream=nb_read_frames", join(media, "long.mp4")]));
  const claimed = Number(execFileSync("ffprobe", [...PROBE, "-show_entries", "stream=nb_frames", join(media, "long.mp4")]));
  expect(claimed).toBeGreaterThan(count);
  await until("the program", async () => (await fetch(`${app.url}/api/state`)).ok); // an idle connection may have been closed in the meantime
  await fetchJson("/api/media/use", { productionId: null, root: 0, path: "long.mp4" });
  const early = await until("a part of it", async () => {
    const t = await take("long.mp4");
    return t && t.quick > 60 ? t : null;
  });
  expect(early.state).toBe("reading");
  await b.open(app.url, "long");
  expect(await (await b.find("[data-testid=reading]")).getText()).toMatch(/being read: \d+ of about \d+ frames/);
  await b.keys("3");
  await b.drag([
    [500, 100],
    [700, 260],
  ]);
  await b.saved();
  const { id } = await shotOf("long");
  const still = await take("long.mp4");
  const render = await fetchJson(`/api/shots/${id}/renders`, { codec: "ffv1" });
  const far = await fetch(`${app.url}/api/takes/${still!.id}/frames/${claimed - 1}`);
  expect([still!.state, render.status, render.error, far.status]).toEqual(["reading", 422, expect.stringContaining("is still being read"), 425]);
  expect((await ready("long.mp4"))!.info!.frames).toBe(count);
  await until("the true last frame on the page", async () => (await (await b.find("[data-testid=frame]")).getText()).includes(`last ${count - 1}`));
  await b.keys(Key.END);
  await b.exact();
  expect(await b.frame()).toBe(count - 1);
  const doc = await document("long");
  expect([doc.recipe.shot.out, doc.recipe.intruders.length]).toEqual([count - 1, 1]);
});
