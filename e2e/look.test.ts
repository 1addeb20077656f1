import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { WebDriver } from "selenium-webdriver";
import { viewingOf } from "../src/core/look/viewing";
import { ffmpeg } from "../testkit/ffmpeg";
import { type App, until } from "./support/app";
import { By, EditorDriver, downloads, Key, openBrowser } from "./support/browser";
import { startReady } from "./support/ready";
import { Session } from "./support/session";
import { still } from "./support/truth";

/** The picture seen through a table of colours and looked at harder; what is written knows nothing of it. */
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

/** A table that turns red, green and blue round, as text. */
const TURNED = `TITLE "Turned"\nLUT_3D_SIZE 2\n${Array.from({ length: 8 }, (_, i) => `${(i >> 2) & 1} ${i & 1} ${(i >> 1) & 1}`).join("\n")}\n`;
const pixel = () => b.pixel(300, 300);
const sees = (wanted: number[]) =>
  until("the picture to change", async () => {
    const now = await pixel();
    return now.every((v, c) => Math.abs(v - wanted[c]) <= 1);
  });

describe("what the picture is seen through", () => {
  it("a table of colours is chosen, weakened, switched off by its key, and there again after the page was left; nothing of it is written", async () => {
    await b.open(app.url, "Ticket hall");
    const own = await pixel();
    const [red, green, blue] = own;
    await (await b.byLabel("Seen through")).click();
    const folder = mkdtempSync(join(tmpdir(), "umber-look-"));
    writeFileSync(join(folder, "none.cube"), "hello");
    writeFileSync(join(folder, "turned.cube"), TURNED);
    const input = await b.find("input[aria-label='Table of colours']");
    await input.sendKeys(join(folder, "none.cube"));
    await until("the refusal", async () =>
      (await (await d.findElement(By.css("body"))).getText()).includes("The table of colours cannot be read: line 1"),
    );
    await input.sendKeys(join(folder, "turned.cube"));
    await sees([blue, red, green]);
    expect(await (await d.findElement(By.css("[data-radix-popper-content-wrapper]"))).getText()).toContain("Turned");
    if (process.env.UMBER_LOOK_GLASS) await b.picture(process.env.UMBER_LOOK_GLASS);
    // the file knows nothing of it
    const shot = (await new Session(app).shot("Ticket hall")).id;
    const { data, info } = await still(app.url, shot, "frame", await b.frame());
    const at = (300 * info.width + 300) * info.channels;
    expect([...data.subarray(at, at + 3)]).toEqual(own);
    await b.open(app.url, "Ticket hall");
    await sees([blue, red, green]);
    await b.chord(Key.SHIFT, "l");
    await sees(own);
    await b.chord(Key.SHIFT, "l");
    await sees([blue, red, green]);
    await (await b.byLabel("Seen through")).click();
    await (await b.byText("Take it off")).click();
    await sees(own);
  });

  it("is looked at harder by a button, and as usual by it again", async () => {
    const own = await pixel();
    await (await b.byLabel("Strong contrast")).click();
    await until("another picture", async () => (await pixel()).some((v, c) => Math.abs(v - own[c]) > 8));
    await (await b.byLabel("Fine detail alone")).click();
    await until("grey ground", async () => (await pixel()).every((v) => v > 60 && v < 200));
    await (await b.byLabel("Fine detail alone")).click();
    await sees(own);
    // grain alone differs from frame to frame where nothing moves
    await (await b.byLabel("Difference in time")).click();
    await until("an even grey where nothing moves", async () => {
      const [one, other] = [await b.grey(300, 300, 20), await b.grey(900, 200, 20)];
      return Math.abs(one - 128) < 8 && Math.abs(other - 128) < 8;
    });
    await (await b.byLabel("Difference in time")).click();
    await sees(own);
  });
});

/** The boom, without its shadow. */
const BOOM: [number, number][] = [[600, 4], [600, 70], [612, 134], [700, 128], [760, 70], [812, 30], [812, 4]]; // prettier-ignore
const luma = (p: Uint8Array, i: number) => 0.2126 * p[i] + 0.7152 * p[i + 1] + 0.0722 * p[i + 2];

describe("a thing that is kept out by reframing", () => {
  it("is outlined, costs what is said, and lies beyond the border; what is written is what is shown", async () => {
    await b.open(app.url, "Ticket hall");
    await (await b.byText("Scout")).click();
    await b.keys(Key.HOME);
    for (let i = 0; i < 5; i++) await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
    for (let i = 0; i < 5; i++) await b.keys(Key.ARROW_RIGHT);
    await b.exact();
    expect(await b.frame()).toBe(55);
    await b.drag(BOOM);
    await (await b.byText("All the shot")).click();
    await b.saved();
    await b.exact();
    const session = new Session(app);
    const { id } = await session.shot("Ticket hall");
    const { recipe } = await session.document(id);
    const framing = recipe.intruders.flatMap((i) => i.layers).find((l) => l.kind === "reframe")!;
    const place = framing.place as { x: number; y: number; scale: number };
    // 134 of 720 rows and what is kept free around
    expect(place.scale).toBeGreaterThan(720 / (720 - 134));
    expect(place.scale).toBeLessThan(720 / (720 - 134 - 16));
    const card = await (await d.findElement(By.css("aside[aria-label=Card]"))).getText();
    expect(card).toContain(`${(100 * (1 - 1 / place.scale)).toFixed(1)} % of the picture’s width`);
    const written = await still(app.url, id, "frame", 55);
    const shown = (await b.pixels()).data;
    let off = 0;
    for (let i = 0; i < 1280 * 720; i++) for (let c = 0; c < 3; c++) off = Math.max(off, Math.abs(shown[4 * i + c] - written.data[3 * i + c]));
    expect(off).toBeLessThanOrEqual(1);
    // the row at the border shows what a frame without the boom shows there
    const clean = await still(app.url, id, "original", 20);
    const dirty = await still(app.url, id, "original", 55);
    const [left, top] = [640 - (640 + place.x) / place.scale, 360 - (360 + place.y) / place.scale];
    const apart = (from: Uint8Array, at: (x: number, y: number) => number) => {
      let [sum, n] = [0, 0];
      for (let y = 0; y < 12; y++)
        for (let x = 730; x < 800; x++, n++) {
          const [u, v] = [Math.round((x + 0.5 - left) * place.scale - 0.5), Math.round((y + 0.5) * place.scale - 0.5)];
          sum += luma(from, at(x, y)) - luma(written.data, 3 * (v * 1280 + u));
        }
      return Math.abs(sum / n);
    };
    expect(apart(clean.data, (x, y) => clean.info.channels * ((y + Math.round(top)) * 1280 + x))).toBeLessThan(2);
    expect(apart(dirty.data, (x, y) => dirty.info.channels * ((y + 20) * 1280 + x))).toBeGreaterThan(10);
    if (process.env.UMBER_LOOK_FRAME) await b.picture(process.env.UMBER_LOOK_FRAME);
    await (await d.findElement(By.xpath("//label[contains(., 'Show it as it is framed')]"))).click();
    await b.find("[data-testid=kept-frame]");
    await b.exact();
    if (process.env.UMBER_LOOK_KEPT) await b.picture(process.env.UMBER_LOOK_KEPT);
    await (await b.byText("Take it back")).click();
    await b.saved();
    await b.exact();
    expect([...(await b.pixel(700, 40))].every((v, c) => Math.abs(v - dirty.data[dirty.info.channels * (40 * 1280 + 700) + c]) <= 1)).toBe(true);
  });
});

describe("a patch that is softer than what surrounds it", () => {
  it("is told so in Match, and made as sharp by one click: in the exported frame its detail is there again", async () => {
    await b.open(app.url, "Ticket hall");
    const { id } = await new Session(app).shot("Ticket hall");
    await b.field("Go to frame", "28");
    await b.keys("p");
    await b.saved();
    await b.field("Go to frame", "55");
    await b.keys("4");
    await b.drag([
      [560, 20],
      [860, 140],
    ]);
    await b.saved();
    /** Energy of what differs from sample to sample within the patch, over the clock that hangs there. */
    const detail = async () => {
      const { data, info } = await still(app.url, id, "frame", 55);
      let s = 0;
      for (let y = 100; y < 136; y++)
        for (let x = 770; x < 850; x++) {
          const at = (y * info.width + x) * info.channels;
          s += (data[at] - data[at + info.channels]) ** 2;
        }
      return s;
    };
    const own = await detail();
    await (await b.byText("Match")).click();
    const said = async () => (await b.byLabel("How far off: sharpness")).getText();
    await b.field("Sharper by", "-2");
    await b.saved();
    await until("the figure", async () => /^(1\.[89]|2\.\d) px too soft/.test(await said()));
    expect(await detail()).toBeLessThan(0.4 * own);
    await (await b.byText("As sharp as around it")).click();
    await until("the figure", async () => /^as sharp/.test(await said()));
    await b.saved();
    expect(await detail()).toBeGreaterThan(0.85 * own);
    expect(await detail()).toBeLessThan(1.4 * own);
  });
});

describe("a take in PQ", () => {
  it("is shown for this screen, by its bare code values where that is wanted, and says so", async () => {
    const session = new Session(app);
    // an even grey, half way up the code values: 93 cd/m², less than a quarter of the screen's range in BT.709
    const film = ffmpeg(["-f", "lavfi", "-i", "color=0x808080:s=320x180:r=12:d=1", "-c:v", "ffv1", "-pix_fmt", "yuv420p10le", "-color_range", "tv", "-colorspace", "bt2020nc", "-color_primaries", "bt2020", "-color_trc", "smpte2084", "-f", "matroska", "pipe:1"]); // prettier-ignore
    await session.upload("dusk.mkv", film);
    await session.shot("dusk");
    await b.open(app.url, "dusk");
    const [shown] = viewingOf({ transfer: "smpte2084", primaries: "bt2020" })!([128 / 255, 128 / 255, 128 / 255]).map((v) => Math.round(255 * v));
    expect(Math.abs(shown - 128)).toBeGreaterThan(30);
    const here = (wanted: number) => until(`a grey of ${wanted}`, async () => (await b.pixel(160, 90)).every((v) => Math.abs(v - wanted) <= 2));
    await here(shown);
    await (await b.byLabel("Seen through")).click();
    expect(await (await d.findElement(By.css("[data-radix-popper-content-wrapper]"))).getText()).toContain("PQ, white at 203 cd/m²");
    const box = await b.byText("Shown for this screen", "label");
    await box.click();
    await here(128);
    await box.click();
    await here(shown);
    if (process.env.UMBER_LOOK_PQ) await b.picture(process.env.UMBER_LOOK_PQ);
  });
});

describe("a take whose pixels are twice as wide as high", () => {
  it("is shown as wide as it is meant to be; the brush is round on the screen, and half as wide in samples", async () => {
    const session = new Session(app);
    const film = ffmpeg(["-f", "lavfi", "-i", "testsrc2=s=320x180:r=12:d=1,setsar=2", "-c:v", "ffv1", "-f", "matroska", "pipe:1"]);
    await session.upload("squeezed.mkv", film);
    const { id } = await session.shot("squeezed");
    await b.open(app.url, "squeezed");
    const [w, h] = await d.executeScript<number[]>(
      "const r = document.querySelector('[data-testid=picture]').getBoundingClientRect(); return [r.width, r.height];",
    );
    expect(w / h).toBeCloseTo(640 / 180, 2);
    await b.keys("p");
    await b.saved();
    await b.keys("5");
    await b.hover(160, 90);
    const ring = await d.executeScript<number[]>(
      "const r = document.querySelector('[data-testid=mask-brush] ellipse').getBoundingClientRect(); return [r.width, r.height];",
    );
    expect(Math.abs(ring[0] / ring[1] - 1)).toBeLessThan(0.06);
    await b.click(160, 90);
    await b.saved();
    if (process.env.UMBER_LOOK_WIDE) await b.picture(process.env.UMBER_LOOK_WIDE);
    await b.field("Feather", "0");
    await b.saved();
    // the patch alone, as it is saved: what its α reaches is half as wide as high
    const layer = (await session.document(id)).recipe.intruders[0].layers[0].id;
    const saved = await fetch(`${app.url}/api/shots/${id}/still?${new URLSearchParams({ what: "patch", frame: "0", layer })}`);
    expect(saved.status).toBe(200);
    const { data, info } = await sharp(Buffer.from(await saved.arrayBuffer()))
      .raw()
      .toBuffer({ resolveWithObject: true });
    const opaque = (x: number, y: number) => data[info.channels * (y * info.width + x) + 3] > 127;
    const across = Array.from({ length: 320 }, (_, x) => opaque(x, 90)).filter(Boolean).length;
    const down = Array.from({ length: 180 }, (_, y) => opaque(160, y)).filter(Boolean).length;
    expect(down).toBeGreaterThan(30);
    expect(Math.abs(2 * across - down)).toBeLessThanOrEqual(2);
  });

  it("a look is laid on a film where that is asked for in Render, and on none else", async () => {
    const session = new Session(app);
    const { id } = await session.shot("squeezed");
    await (await b.byLabel("Seen through")).click();
    const folder = mkdtempSync(join(tmpdir(), "umber-look-"));
    writeFileSync(join(folder, "turned.cube"), TURNED);
    await (await b.find("input[aria-label='Table of colours']")).sendKeys(join(folder, "turned.cube"));
    await until("the look", async () => (await d.findElement(By.css("[data-radix-popper-content-wrapper]")).getText()).includes("Turned"));
    await b.keys(Key.ESCAPE);
    await (await b.byText("Render")).click();
    const films = async () => {
      const jobs = await session.get<{ id: string; state: string }[]>(`/api/shots/${id}/renders`);
      return jobs.every((j) => j.state === "done") ? jobs.map((j) => j.id) : [];
    };
    const go = await d.findElement(By.xpath("//aside[@aria-label='Card']//button[normalize-space(.)='Render']"));
    await go.click();
    const [plain] = await until("the film", async () => ((await films()).length === 1 ? films() : null));
    await (await d.findElement(By.xpath("//label[contains(., 'In the look “Turned”')]"))).click();
    await go.click();
    await until("the other", async () => (await films()).length === 2);
    const looked = (await films()).find((j) => j !== plain)!;
    /** The first frame's green bar, as R′G′B′. */
    const green = async (job: string) => {
      const path = join(folder, `${job}.mp4`);
      writeFileSync(path, Buffer.from(await (await fetch(`${app.url}/api/jobs/${job}/file`)).arrayBuffer()));
      const rgb = ffmpeg(["-i", path, "-frames:v", "1", "-f", "rawvideo", "-pix_fmt", "rgb24", "pipe:1"]);
      return [...rgb.subarray(3 * (150 * 320 + 70), 3 * (150 * 320 + 70) + 3)];
    };
    const [own, other] = [await green(plain), await green(looked)];
    expect(own[1] - own[0]).toBeGreaterThan(100);
    [own[2], own[0], own[1]].forEach((v, c) => expect(Math.abs(other[c] - v)).toBeLessThan(12));
  });
});
