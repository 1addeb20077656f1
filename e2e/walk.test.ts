import { spawnSync } from "node:child_process";
import { copyFileSync, existsSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import sharp from "sharp";
import type { WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Recipe } from "../src/core/document/recipe";
import { frameFromBytes } from "../src/core/pixels/frame";
import { toRgba8 } from "../src/core/pixels/toRgb";
import { decodeAll } from "../testkit/ffmpeg";
import { YUV420 } from "../testkit/pictures";
import { type App, ROOT, until } from "./support/app";
import { startReady } from "./support/ready";
import { EditorDriver, By, downloads, Key, openBrowser } from "./support/browser";
import { luma, luma10, psnr } from "./support/measure";
import { BOOM } from "./support/outlines";

/** The whole job on the take `hall`, by pointer and keys; then the files that came out, against the truth. */
let app: App;
let d: WebDriver;
let b: EditorDriver;
const dl = downloads();
const [W, H] = [1280, 720];
const CLEAN = 28;
const WORST = 55;
/** Frames that are measured of what came out: reading every sample of every one takes longer than rendering them. */
const EVERY = 4;

beforeAll(async () => {
  app = await startReady();
  d = await openBrowser(dl);
  b = new EditorDriver(d);
  await until(
    "the take to be read",
    async () => ((await (await fetch(`${app.url}/api/state`)).json()) as { productions: { shots: unknown[] }[] }).productions[0]?.shots.length,
  );
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

const downloaded = (name: RegExp) =>
  until(`the download ${String(name)}`, async () => {
    const f = readdirSync(dl).find((n) => name.test(n));
    return f && join(dl, f);
  });
const grey = (x: number, y: number, r?: number) => b.grey(x, y, r);

describe("the walk", () => {
  it("finds the last clean frame by keys and by the playhead, and makes it a plate with one key", async () => {
    await b.open(app.url, "Ticket hall");
    await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
    await b.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_LEFT);
    expect(await b.frame()).toBe(11);
    const ruler = await b.find('[data-testid="ruler"]');
    const { width } = await ruler.getRect();
    await d
      .actions()
      .move({ origin: ruler, x: Math.round(-width / 2) + 8 })
      .press()
      .move({ origin: ruler, x: Math.round(((CLEAN + 0.5) / 96 - 0.5) * width), duration: 150 })
      .release()
      .perform();
    expect(await b.frame()).toBe(CLEAN);
    await b.exact();
    await b.keys("p");
    await b.saved();
    await b.byLabel(`Plate Frame ${CLEAN}`);
  });

  it("clones on the plate with a preview under the brush, and undoes it", async () => {
    await (await b.byLabel(`Retouch Frame ${CLEAN}`)).click();
    await b.exact();
    await b.field("Size", "30+10");
    await b.field("Hardness", "80");
    expect(await b.fieldValue("Size")).toBe("40");
    const before = await grey(735, 490); // the suitcase, dark
    await b.hover(200, 150);
    await b.keys("x");
    await b.drag([
      [735, 490],
      [741, 496],
      [735, 502],
    ]);
    await b.saved();
    await until("the clone", async () => Math.abs((await grey(735, 490)) - before) > 25);
    const wall = await grey(200, 150);
    expect(Math.abs((await grey(735, 490)) - wall)).toBeLessThan(6);
    await b.chord(Key.CONTROL, "z");
    await until("undo", async () => Math.abs((await grey(735, 490)) - before) < 2);
    await b.chord(Key.CONTROL, Key.SHIFT, "z");
    await until("redo", async () => Math.abs((await grey(735, 490)) - wall) < 6);
    await b.chord(Key.CONTROL, "z");
    await until("undo", async () => Math.abs((await grey(735, 490)) - before) < 2);
    await b.keys(Key.ESCAPE);
  });

  it("an outline round the boom at its worst frame: closing it takes the boom out at once", async () => {
    await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
    await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
    for (let i = 0; i < WORST - CLEAN - 20; i++) await b.keys(Key.ARROW_RIGHT);
    expect(await b.frame()).toBe(WORST);
    await b.exact();
    const boom = await grey(660, 90);
    expect(boom).toBeLessThan(70);
    await b.keys("1");
    for (const p of BOOM) await b.click(...p);
    await b.click(575, 165);
    await until("the patch", async () => (await grey(660, 90)) > boom + 60);
    await b.saved();
  });

  it("feather and grow by number and on the picture; first and last frame by keys; fades; keyframes on the timeline", async () => {
    await b.field("Feather", "2*10");
    expect(await b.fieldValue("Feather")).toBe("20");
    // the edge itself: outside it is widened, at its inner rim it grows
    const lower: [number, number] = [660, 176];
    await b.drag([
      [lower[0], lower[1] + 24],
      [lower[0] + 1, lower[1] + 35],
    ]);
    await b.saved();
    const feather = Number(await b.fieldValue("Feather"));
    expect(feather).toBeGreaterThan(30);
    await b.field("Feather", "0");
    await b.drag([
      [lower[0], lower[1] - 24],
      [lower[0] + 1, lower[1] - 19],
    ]);
    expect(Number(await b.fieldValue("Grow"))).toBeGreaterThan(2);
    await b.field("Feather", "16");
    await b.field("Grow", "4");
    await b.rename("Boom");
    // first and last frame: by key, by number, by dragging the band's end
    await b.keys(Key.HOME);
    for (let i = 0; i < 3; i++) await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
    await b.keys(Key.ARROW_LEFT, "i");
    expect(await b.fieldValue("First frame")).toBe("29");
    await b.field("Last frame", "80");
    const end = await b.find('[data-testid="band-out"]');
    await b.dragElement(end, -70, 0);
    await b.saved();
    const last = Number(await b.fieldValue("Last frame"));
    expect(last).toBeGreaterThan(71);
    expect(last).toBeLessThan(76);
    await b.field("Last frame", "73");
    await b.field("Fade in", "1");
    await b.field("Fade out", "1");
    // opacity keyframes, one of them dragged
    await b.keys("k");
    for (let i = 0; i < 3; i++) await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
    await b.keys("k");
    await b.field("Opacity", "50");
    // these two, and the outline's own from when it was drawn
    expect(await d.findElements(By.css('[data-testid="key"]'))).toHaveLength(3);
    await b.keys(",", ",");
    expect(await b.frame()).toBe(29);
    await b.keys(".");
    expect(await b.frame()).toBe(WORST);
    await b.keys(".");
    expect(await b.frame()).toBe(59);
    await b.exact();
    const half = await grey(660, 90);
    await b.dragElement((await d.findElements(By.css('[data-testid="key"]')))[2], 60, 0);
    await b.saved();
    await b.exact();
    await until("less of the boom", async () => (await grey(660, 90)) > half + 4);
    // and off again
    await b.keys(".");
    await b.keys("k");
    await b.keys(",", ",");
    await b.keys("k");
    await b.field("Opacity", "100");
    await b.saved();
    expect(await d.findElements(By.css('[data-testid="key"]'))).toHaveLength(1);
  });

  it("a second patch for the shadow, by an oval", async () => {
    await b.keys("3");
    await b.drag([
      [470, 90],
      [620, 330],
    ]);
    await b.saved();
    await b.field("Feather", "40");
    await b.rename("Shadow");
    await b.field("First frame", "29");
    await b.field("Last frame", "73");
    await b.saved();
  });

  it("shows the original and the matte while a key is held, and says so", async () => {
    await b.keys(Key.HOME);
    for (let i = 0; i < 5; i++) await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
    await b.exact();
    const mended = await grey(660, 90);
    await b.hold("`");
    await until("the original", async () => (await grey(660, 90)) < mended - 60);
    await b.release("`");
    await until("the mended frame", async () => Math.abs((await grey(660, 90)) - mended) < 2);
    await b.hold("m");
    await until("the matte", async () => (await grey(660, 90)) > 254 && (await grey(200, 600)) < 1);
    await b.release("m");
    await b.exact();
  });

  it("plays, and stops where it is told", async () => {
    await b.keys(" ");
    await new Promise((r) => setTimeout(r, 1500));
    await b.keys(" ");
    expect(await b.frame()).not.toBe(50);
    await b.exact();
  });

  it("renders to H.264 with progress, stops, runs again, downloads", async () => {
    await (await b.byText("Render")).click();
    const go = await d.findElement(By.xpath("//aside[@aria-label='Card']//button[normalize-space(.)='Render']"));
    await go.click();
    await until("progress", async () => Number(await (await b.find("[data-testid=job] [role=progressbar]")).getAttribute("aria-valuenow")) > 3);
    await (await b.byLabel("Stop")).click();
    const state = async () => (await b.find("[data-testid=job]")).getAttribute("data-state");
    await until("stopped", async () => (await state()) === "stopped");
    expect(readdirSync(join(app.data, "renders"))).toEqual([]);
    await (await b.byLabel("Run again")).click();
    await until("the render", async () => (await state()) === "done");
    await d.findElement(By.css("a[download]")).click();
    await downloaded(/^Ticket-hall-mended\.mp4$/);
  });

  it("saves a frame and a patch alone as PNG, and the recipe as a file", async () => {
    await b.keys(Key.HOME);
    for (let i = 0; i < 5; i++) await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
    await b.exact();
    const screen = await b.pixels();
    await (await b.byText("Save frame 50 as PNG")).click();
    const png = await downloaded(/mended-0050\.png$/);
    // preview equals what the engine computes, sample for sample
    const { data } = await sharp(await settled(png))
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(Buffer.compare(data, Buffer.from(screen.data))).toBe(0);
    await (await b.byText("Save the recipe as a file")).click();
    await downloaded(/\.recipe\.json$/);
    await (await b.byText("Patch")).click();
    await d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Boom')]")).click();
    await (await b.byLabel("Save this patch as PNG with transparency")).click();
    const alone = await sharp(await settled(await downloaded(/patch-0050\.png$/)))
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(alone.info.channels).toBe(4);
    expect(alone.data[4 * (90 * W + 660) + 3]).toBe(255);
    expect(alone.data[4 * (600 * W + 200) + 3]).toBe(0);
  });
});

/** A file whose size has stopped growing. */
async function settled(file: string): Promise<string> {
  await until("the whole file", async () => {
    const a = readFileSync(file).length;
    await new Promise((r) => setTimeout(r, 120));
    return a > 0 && readFileSync(file).length === a;
  });
  return file;
}

describe("what came out", () => {
  it("the boom is gone: PSNR against the truth inside its matte, and nothing but the encoder outside", async () => {
    const file = await settled(await downloaded(/^Ticket-hall-mended\.mp4$/));
    const size = W * H;
    const truth = luma10(join(ROOT, "demo/truth/hall-clean.mkv"), size, EVERY);
    const matte = decodeAll(join(ROOT, "demo/truth/hall-matte-boom.mkv"), "gray", EVERY);
    const take = luma(join(ROOT, "demo/takes/hall.mp4"), size, EVERY);
    const mended = luma(file, size, EVERY);
    expect(mended.length).toBe((96 / EVERY) * size);
    const inside = (i: number) => matte[i] > 127;
    const before = psnr(take, truth, inside);
    const after = psnr(mended, truth, inside);
    console.log(`inside the boom's matte: ${before.toFixed(2)} dB before, ${after.toFixed(2)} dB after`);
    expect(after).toBeGreaterThan(34);
    expect(after).toBeGreaterThan(before + 10);
    // outside both patches: the same encoder on the untouched take
    const plain = join(dl, "plain.mp4");
    spawnSync("ffmpeg", [
      "-v",
      "error",
      "-y",
      "-i",
      join(ROOT, "demo/takes/hall.mp4"),
      "-c:v",
      "libx264",
      "-preset",
      "medium",
      "-crf",
      "18",
      "-pix_fmt",
      "yuv420p",
      plain,
    ]);
    const untouched = luma(plain, size, EVERY);
    const outside = (i: number) => Math.floor((i % size) / W) > 400;
    const a = psnr(mended, take, outside);
    const c = psnr(untouched, take, outside);
    console.log(`outside: ${a.toFixed(2)} dB mended, ${c.toFixed(2)} dB the untouched take through the same encoder`);
    expect(Math.abs(a - c)).toBeLessThan(0.3);
  });

  it("the saved recipe renders the same without a screen, and its frame is what the screen showed", async () => {
    const recipe = await settled(await downloaded(/\.recipe\.json$/));
    copyFileSync(join(ROOT, "demo/takes/hall.mp4"), join(dl, "Ticket hall.mp4"));
    const out = join(dl, "again.mkv");
    const r = spawnSync(join(ROOT, "umber"), ["render", recipe, "--out", out, "--codec", "ffv1"], { encoding: "utf8" });
    expect(r.stderr).toContain("96 of 96 frames");
    expect((JSON.parse(readFileSync(recipe, "utf8")) as Recipe).intruders.map((i) => i.name)).toEqual(["Boom", "Shadow"]);
    const all = decodeAll(out, "yuv420p", 50);
    const size = W * H * 1.5;
    const frame = frameFromBytes(new Uint8Array(all.subarray(size, 2 * size)), W, H, YUV420);
    const rgba = new Uint8ClampedArray(W * H * 4);
    toRgba8(
      frame,
      { matrix: "bt709", range: "limited", siting: "left", primaries: "bt709", transfer: "bt709" },
      { x0: 0, y0: 0, x1: W, y1: H },
      rgba,
      "linear",
    );
    const { data } = await sharp(await downloaded(/mended-0050\.png$/))
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(Buffer.compare(data, Buffer.from(rgba.buffer))).toBe(0);
    expect(existsSync(out)).toBe(true);
  });
});
