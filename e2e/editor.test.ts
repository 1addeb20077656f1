import { copyFileSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { spawnSync } from "node:child_process";
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Origin, type WebDriver } from "selenium-webdriver";
import type { PatchLayer } from "../src/core/document/layer";
import { valueAt } from "../src/core/time/keyed";
import { decodeAll } from "../testkit/ffmpeg";
import { type App, ROOT, startApp, until } from "./support/app";
import { EditorDriver, Button, By, complaints, downloads, Key, openBrowser } from "./support/browser";
import { intoFolder } from "./support/ready";
import { Session } from "./support/session";
import { againstTruth } from "./support/truth";

/** Masks, sources, time, playing and looking, by pointer and keys, on the take `hall`; what comes out is compared with the screen and the truth. */
let app: App;
let d: WebDriver;
let b: EditorDriver;
let session: Session;
let data: string;
const dl = downloads();
const [W, H] = [1280, 720];

beforeAll(async () => {
  data = await mkdtemp(join(tmpdir(), "umber-editor-"));
  await intoFolder(data);
  app = await startApp("demo", data, { UMBER_DEMO: "1" });
  d = await openBrowser(dl);
  b = new EditorDriver(d);
  session = new Session(app);
  await session.shot("Ticket hall");
});
afterAll(async () => {
  if (process.env.UMBER_KEEP) await b.picture(process.env.UMBER_KEEP);
  await d?.quit();
  await app?.stop();
  await rm(data, { recursive: true, force: true });
});

const goTo = async (n: number | string) => {
  await b.field("Go to frame", String(n));
  await b.exact();
};
const shotId = async () => (await session.shot("Ticket hall")).id;
const recipe = async () => (await session.document(await shotId())).recipe;
const patches = async () => (await recipe()).intruders.flatMap((i) => i.layers) as PatchLayer[];
const patch = async (k = -1) => (await patches()).at(k)!;
const own = (l: PatchLayer) => {
  if ("use" in l.mask) throw new Error("shared");
  return l.mask;
};
const press = async (text: string) =>
  (await until(text, () => d.findElement(By.xpath(`//button[starts-with(normalize-space(.), ${JSON.stringify(text)})]`)))).click();
const count = async (css: string) => (await d.findElements(By.css(css))).length;
const grey = (x: number, y: number, r?: number) => b.grey(x, y, r);
/** What the screen shows is, sample for sample, what the engine computes for the frame. */
const sameAsEngine = async (frame: number) => {
  const r = await fetch(`${app.url}/api/shots/${await shotId()}/still?what=frame&frame=${frame}`);
  const { data } = await sharp(Buffer.from(await r.arrayBuffer())).ensureAlpha().raw().toBuffer({ resolveWithObject: true }); // prettier-ignore
  await until("the screen to show what is written", async () => Buffer.compare(data, Buffer.from((await b.pixels()).data)) === 0);
};
const undo = async (times = 1) => {
  for (let i = 0; i < times; i++) {
    await b.chord(Key.CONTROL, "z");
    await b.saved();
  }
};

describe("the hall, boom and shadow", () => {
  it("are gone and feathered within 14 actions from the opened shot", async () => {
    await b.open(app.url, "Ticket hall");
    let actions = 0;
    const act = async (run: () => Promise<unknown>) => {
      await run();
      actions++;
      await b.saved();
    };
    const ruler = await b.find('[data-testid="ruler"]');
    const { width } = await ruler.getRect();
    await act(() => d.actions().move({ origin: ruler, x: Math.round(((55.5) / 96 - 0.5) * width) }).click().perform()); // prettier-ignore
    expect(await b.frame()).toBe(55);
    await b.exact();
    await act(() => press("Scout"));
    await act(() => b.drag([[580, 60], [630, 2], [1010, 2], [800, 116], [736, 172], [640, 190], [578, 172], [578, 70]])); // prettier-ignore
    await b.find("[data-testid=seen]");
    await act(() => press("Cover it with a patch"));
    await act(() => b.field("Feather", "20"));
    await act(() => press("Scout"));
    await act(() => b.drag([[468, 130], [500, 95], [560, 85], [600, 120], [640, 200], [620, 325], [480, 325], [466, 200]])); // prettier-ignore
    await until("both to be seen", async () => (await count("[data-testid=seen]")) === 2);
    await act(() => press("Cover it with a patch"));
    await act(() => b.field("Feather", "40"));
    expect(actions).toBeLessThanOrEqual(14);
    const r = await againstTruth(app.url, "hall", await shotId(), 55);
    console.log(`hall after ${actions} actions: ${r.before.toFixed(1)} dB before, ${r.after.toFixed(1)} dB after`);
    expect(r.after).toBeGreaterThan(40);
    expect(await patches()).toHaveLength(2);
    // away again, for what follows
    await undo(2 * 4);
    await until("nothing", async () => (await recipe()).intruders.length === 0);
  });
});

describe("an outline with curves", () => {
  it("is drawn by clicks and drags; its arms are edited, together and alone; what is written is what was seen, and the boom is gone", async () => {
    await goTo(28);
    await b.keys("p");
    await goTo(55);
    await b.keys("1");
    await b.click(575, 165);
    await b.drag([[575, 70], [580, 40]]); // prettier-ignore
    await b.drag([[700, -14], [760, -16]]); // prettier-ignore
    await b.click(930, -14);
    await b.click(880, 30);
    await b.click(780, 105);
    await b.drag([[700, 170], [670, 185]]); // prettier-ignore
    await b.keys(Key.ENTER);
    await b.saved();
    const read = async () => valueAt((own(await patch()).shapes[0] as unknown as { points: never }).points, 55) as unknown as number[][];
    let points = await read();
    expect(points.map((p) => p.length)).toEqual([2, 6, 6, 2, 2, 2, 6]);
    // pick the second point: its arms are there; one is drawn, the other turns with it
    await b.click(575, 70);
    await until("the arms", async () => (await count('[data-testid="arm"]')) === 2);
    const [x, y, , , dx, dy] = points[1];
    await b.drag([[x + dx, y + dy], [x + dx + 20, y + dy - 6]]); // prettier-ignore
    await b.saved();
    points = await read();
    const [ix, iy, ox, oy] = points[1].slice(2);
    expect(ox).toBeGreaterThan(dx + 10);
    expect(Math.abs(ix * oy - iy * ox)).toBeLessThan(0.02 * Math.hypot(ix, iy) * Math.hypot(ox, oy));
    // alone, with Alt
    await b.hold(Key.ALT);
    await b.drag([[x + ox, y + oy], [x + 6, y - 40]]); // prettier-ignore
    await b.release(Key.ALT);
    await b.saved();
    expect((await read())[1].slice(2, 4)).toEqual([ix, iy]);
    await undo();
    // a double click on the edge puts a point in, and the outline stays where it was
    const matte = async () => {
      await b.hold("m");
      await until("the matte", async () => (await grey(640, 60)) > 250 && (await grey(200, 600)) < 2);
      await b.exact();
      const { data } = await b.pixels();
      await b.release("m");
      return data;
    };
    const before = await matte();
    await b.exact();
    const mid = [(930 + 880) / 2, (-14 + 30) / 2] as const;
    await d.actions().move({ ...(await b.at(...mid)), origin: Origin.VIEWPORT }).doubleClick().perform(); // prettier-ignore
    await until("one point more", async () => (await read()).length === 8);
    const after = await matte();
    let most = 0;
    for (let i = 0; i < after.length; i += 4) most = Math.max(most, Math.abs(after[i] - before[i]));
    expect(most).toBeLessThanOrEqual(1);
    // and Delete takes it out again
    await b.keys(Key.DELETE);
    await until("one point less", async () => (await read()).length === 7);
    await b.field("Feather", "16");
    await b.saved();
    await b.exact();
    await sameAsEngine(55);
    expect(await grey(660, 90)).toBeGreaterThan(140);
  });

  it("says which patch is selected, in the list, on the picture and on the timeline; handles can be seen and go while something is dragged", async () => {
    await b.rename("Boom");
    expect(await (await d.findElement(By.css("aside[aria-label=Ledger] button[aria-pressed=true]"))).getText()).toContain("Boom");
    expect(await (await b.find('[data-testid="name-tag"]')).getText()).toBe("Boom");
    expect(await count('[data-testid="band"][data-selected="true"]')).toBe(1);
    expect(await (await b.find('[role="toolbar"]')).getText()).toContain("Boom");
    // every handle is light with a dark rim, so that it shows on anything
    const handle = await b.find('[data-testid="handle"]');
    expect(await handle.getAttribute("stroke")).toBe("#1a1613");
    expect(["#efe7da", "var(--color-ochre)"]).toContain(await handle.getAttribute("fill"));
    const all = await count('[data-testid="handle"]');
    expect(all).toBe(7);
    const from = await b.at(880, 30);
    const a = d.actions().move({ ...from, origin: Origin.VIEWPORT }).press().move({ x: from.x + 12, y: from.y + 6, origin: Origin.VIEWPORT, duration: 60 }); // prettier-ignore
    await a.perform();
    expect(await count('[data-testid="handle"]')).toBe(1);
    expect(await count('[data-testid="move-frame"]')).toBe(0);
    await d.actions().move({ ...from, origin: Origin.VIEWPORT }).release().perform(); // prettier-ignore
    await b.keys("h");
    await until("no handles", async () => (await count('[data-testid="handle"], [data-testid="name-tag"]')) === 0);
    await b.keys("h");
    await b.saved();
  });

  it("panning with the held key or the middle button never draws, moves or paints, whatever the tool", async () => {
    const before = JSON.stringify(await recipe());
    for (const tool of ["1", "2", "3", "5", "6", "7"]) {
      await b.keys(tool);
      await b.hold("g");
      await b.drag([[640, 90], [700, 200]]); // prettier-ignore
      await b.release("g");
      await b.drag([[660, 100], [600, 160]], Button.MIDDLE); // prettier-ignore
    }
    await b.saved();
    expect(JSON.stringify(await recipe())).toBe(before);
    expect(await count('[data-testid="drawing"]')).toBe(0);
    await b.keys("f", "6");
  });

  it("leaving never stores what was not finished, and never loses it: a half drawn outline waits for its stage", async () => {
    const before = JSON.stringify(await recipe());
    await b.keys("1");
    await b.click(300, 300);
    await b.click(340, 300);
    await press("Scout");
    expect(JSON.stringify(await recipe())).toBe(before);
    await (await d.findElement(By.xpath("//nav[@aria-label='Stages']//button[contains(., 'Patch')]"))).click();
    await b.find('[data-testid="drawing"]');
    await b.keys(Key.ESCAPE);
    await until("nothing drawn", async () => (await count('[data-testid="drawing"]')) === 0);
    // a drag that is broken off
    await (await d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Boom')]"))).click();
    await b.keys("6");
    const from = await b.at(880, 30);
    await d.actions().move({ ...from, origin: Origin.VIEWPORT }).press().move({ x: from.x + 30, y: from.y + 9, origin: Origin.VIEWPORT, duration: 60 }).perform(); // prettier-ignore
    await b.keys(Key.ESCAPE);
    await d.actions().release().perform(); // prettier-ignore
    await b.saved();
    expect(JSON.stringify(await recipe())).toBe(before);
    expect(await count('[data-testid="name-tag"]')).toBe(1);
  });
});

describe("a keyed oval", () => {
  it("moved at another frame gets a keyframe there, which is said; between both it is in the middle; its keyframe goes to the exact frame", async () => {
    await goTo(40);
    await (await b.byText("Adjust")).click();
    await b.keys(Key.ESCAPE, "3");
    await b.drag([[480, 100], [600, 240]]); // prettier-ignore
    await b.saved();
    await b.rename("Shadow");
    await goTo(60);
    await b.drag([[540, 150], [640, 250]]); // prettier-ignore
    await b.saved();
    await until("it is said", async () => (await (await d.findElement(By.css("body"))).getText()).includes("Keyframe of Shadow at frame 60"));
    const oval = async () => own(await patch()).shapes[0] as unknown as { center: { keys: { f: number; v: number[] }[] } };
    expect((await oval()).center.keys.map((k) => k.f)).toEqual([40, 60]);
    // on the timeline two marks; both drawn as ghosts from in between
    await goTo(50);
    await until("two ghosts", async () => (await count('[data-testid="ghost"]')) === 2);
    await b.hold("m");
    await until("the matte in the middle", async () => (await grey(590, 220)) > 250 && (await grey(505, 150)) < 10);
    await b.release("m");
    // picked and dragged
    const mark = await d.findElement(By.css('[data-testid="key"][data-frame="60"]'));
    await b.dragElement(mark, 53, 0);
    await b.saved();
    expect((await oval()).center.keys[1].f).toBe(65);
    // and to the exact frame, by number
    await b.field("Frame of the keyframe", "63");
    await b.saved();
    expect((await oval()).center.keys[1].f).toBe(63);
    // held until the next keyframe
    await b.keys(",");
    await (await d.findElement(By.css('[data-testid="key"][data-frame="40"]'))).click();
    await press("hold");
    await b.saved();
    await goTo(62);
    await b.hold("m");
    await until("the matte where it was", async () => (await grey(540, 170)) > 250 && (await grey(650, 300)) < 10);
    await b.release("m");
    // copied, and pasted at another frame
    await b.chord(Key.CONTROL, "c");
    await goTo(80);
    await b.chord(Key.CONTROL, "v");
    await b.saved();
    expect((await oval()).center.keys.map((k) => k.f)).toEqual([40, 63, 80]);
    await b.keys(Key.ESCAPE);
    // throughout: all keyframes alike
    const was = await oval();
    await press("all keyframes");
    await goTo(40);
    await b.drag([[540, 170], [540, 150]]); // prettier-ignore
    await b.saved();
    const now = await oval();
    const by = now.center.keys[0].v[1] - was.center.keys[0].v[1];
    expect(by).toBeLessThan(-15);
    for (const [i, k] of now.center.keys.entries()) expect(k.v[1] - was.center.keys[i].v[1]).toBeCloseTo(by, 1);
    await press("this keyframe");
  });

  it("is scaled by its ticks and turned by its ring, about its middle or another pivot", async () => {
    await goTo(40);
    await b.keys("6");
    await (await d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Shadow')]"))).click();
    await (await d.findElement(By.xpath("//ul[@aria-label='Shapes of the mask']//button[contains(., 'Oval')]"))).click();
    await b.find('[data-testid="move-frame"]');
    const oval = async () => own(await patch()).shapes[0] as unknown as Record<"center" | "radii" | "angle", never>;
    const at = async (field: "center" | "radii" | "angle", n = 40) => valueAt((await oval())[field] ?? (0 as never), n) as unknown as number[];
    const [cx, cy] = await at("center");
    const [rx, ry] = await at("radii");
    const scale = (await (await b.find('[data-testid="picture"]')).getRect()).width / W;
    const corner: [number, number] = [cx + rx + 14 / scale, cy + ry + 14 / scale];
    await b.drag([corner, [corner[0] + 0.5 * rx, corner[1] + 0.5 * ry]]); // prettier-ignore
    await b.saved();
    const [wide, high] = await at("radii");
    expect(wide).toBeGreaterThan(1.1 * rx);
    expect(wide / high).toBeCloseTo(rx / ry, 2);
    // the corner across has stayed
    const [nx, ny] = await at("center");
    expect(Math.abs(nx - wide - (cx - rx))).toBeLessThan(1.5);
    expect(Math.abs(ny - high - (cy - ry))).toBeLessThan(1.5);
    await b.dragElement(await b.find('[data-testid="turn"]'), 40, 14);
    await b.saved();
    expect((await at("angle")) as unknown as number).toBeGreaterThan(8);
    expect((await at("center")).map(Math.round)).toEqual([nx, ny].map(Math.round));
    // about another point: the cross is moved with Alt, and the middle goes round it
    await b.hold(Key.ALT);
    await b.drag([[nx, ny], [nx - 50, ny]]); // prettier-ignore
    await b.release(Key.ALT);
    await b.dragElement(await b.find('[data-testid="turn"]'), 30, 10);
    await b.saved();
    expect(Math.abs((await at("center"))[1] - ny)).toBeGreaterThan(2);
    await undo(3);
  });

  it("keyframes are picked by a frame drawn over the rows, and deleted together", async () => {
    const marks = await d.findElements(By.css('[data-testid="key"]'));
    expect(marks.length).toBeGreaterThanOrEqual(4); // of both patches
    const last = await d.findElement(By.css('[data-testid="key"][data-frame="80"]'));
    const first = await d.findElement(By.css('[data-testid="key"][data-frame="63"]'));
    const [p, q] = [await first.getRect(), await last.getRect()];
    await d.actions().move({ x: Math.round(p.x - 12), y: Math.round(p.y + 24), origin: Origin.VIEWPORT }).press().move({ x: Math.round(q.x + 20), y: Math.round(q.y + 4), origin: Origin.VIEWPORT, duration: 100 }).release().perform(); // prettier-ignore
    expect(await count('[data-testid="key"][aria-pressed="true"]')).toBe(2);
    await b.keys(Key.DELETE);
    await b.saved();
    expect(((own(await patch()).shapes[0] as never as { center: { keys: unknown[] } }).center.keys)).toHaveLength(1); // prettier-ignore
    await undo();
  });

  it("a curve of one value takes a keyframe where it is clicked twice, and its arms ease it", async () => {
    await b.chord(Key.SHIFT, "k");
    const curve = await b.find('[data-testid="curve"]');
    const r = await curve.getRect();
    const per = r.width / 96;
    const at = (f: number, share: number) => ({
      x: Math.round(r.x + (f + 0.5) * per),
      y: Math.round(r.y + share * r.height),
      origin: Origin.VIEWPORT,
    });
    await d.actions().move(at(45, 0.45)).doubleClick().perform(); // prettier-ignore
    await b.saved();
    await d.actions().move(at(75, 0.8)).doubleClick().perform(); // prettier-ignore
    await b.saved();
    const opacity = async () => (await patch()).opacity as { keys: { f: number; v: number; ease?: number[] }[] };
    expect((await opacity()).keys.map((k) => k.f)).toEqual([45, 75]);
    await (await d.findElement(By.css('[data-testid="curve-key"][data-frame="45"]'))).click();
    const [arm] = await d.findElements(By.css('[data-testid="curve-arm"]'));
    await b.dragElement(arm, 40, -12);
    await b.saved();
    const [k] = (await opacity()).keys;
    expect(k.ease?.[0]).toBeGreaterThan(0.36);
    // Delete takes out the picked key of this value alone
    await (await d.findElement(By.css('[data-testid="curve-key"][data-frame="75"]'))).click();
    await b.keys(Key.DELETE);
    await b.saved();
    expect((await opacity()).keys.map((x) => x.f)).toEqual([45]);
    await undo(4);
    await b.chord(Key.SHIFT, "k");
  });
});

describe("numbers and bands", () => {
  it("a number is typed as a sum and beyond its slider, dragged, stepped by keys and wheel, and set back", async () => {
    const feather = async () => own(await patch()).feather;
    await b.field("Feather", "4*100");
    expect(await b.fieldValue("Feather")).toBe("400");
    const input = await d.findElement(By.xpath("//label[normalize-space(.)='Feather']/..//input"));
    await input.click();
    await input.sendKeys(Key.ARROW_DOWN, Key.chord(Key.SHIFT, Key.ARROW_DOWN));
    await until("389", async () => (await b.fieldValue("Feather")) === "389");
    await b.wheel(input, -120);
    await until("the wheel", async () => (await b.fieldValue("Feather")) === "390");
    await input.sendKeys(Key.ESCAPE);
    await b.dragElement(input, -40, 0);
    await b.saved();
    expect(await feather()).toBeLessThan(380);
    await d.actions().doubleClick(await d.findElement(By.xpath("//label[normalize-space(.)='Feather']"))).perform(); // prettier-ignore
    await b.saved();
    expect(await feather()).toBe(0);
    await b.field("Feather", "two");
    expect(await input.getAttribute("aria-invalid")).toBe("true");
    await input.sendKeys(Key.ESCAPE);
    await b.field("Feather", "12");
    await b.saved();
  });

  it("a band is trimmed, dissolved out with Shift, and extended over the shot; the timeline is zoomed", async () => {
    await b.field("First frame", "30");
    await b.field("Last frame", "60");
    await b.saved();
    const selected = (end: string) => b.find(`[data-layer]:has([data-selected="true"]) [data-testid="band-${end}"]`);
    await b.hold(Key.SHIFT);
    await b.dragElement(await selected("out"), 64, 0); // six frames on, and the fade with it
    await b.release(Key.SHIFT);
    await b.saved();
    const l = await patch();
    expect([l.out, l.fadeOut]).toEqual([66, 6]);
    await press("Whole shot");
    await b.saved();
    expect([(await patch()).in, (await patch()).out]).toEqual([0, 95]);
    const ruler = await b.find('[data-testid="ruler"]');
    await b.hold(Key.CONTROL);
    await b.wheel(ruler, -300);
    await b.release(Key.CONTROL);
    await (await b.byLabel("Show the whole shot")).click();
    expect(await count('[aria-label="Show the whole shot"]')).toBe(0);
    await b.field("Fade out", "0");
    await b.saved();
  });
});

describe("a painted mask", () => {
  it("begins from hidden, shows what is painted on, hides what is painted away, and is not the wrong way round", async () => {
    await goTo(55);
    await b.keys("6");
    await (await d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Boom')]"))).click();
    await press("Paint from hidden");
    await b.saved();
    const boom = await grey(660, 90); // the thing is there: nothing of the patch shows
    expect(boom).toBeLessThan(90);
    await b.field("Size", "90");
    await b.drag([[590, 150], [640, 110], [700, 80], [760, 60], [820, 30]]); // prettier-ignore
    await b.saved();
    await until("the boom painted out", async () => (await grey(660, 90)) > boom + 60);
    // outside of the stroke nothing has changed
    await b.exact();
    const now = await b.pixels();
    const id = await shotId();
    const { data: original } = await sharp(Buffer.from(await (await fetch(`${app.url}/api/shots/${id}/still?what=original&frame=55`)).arrayBuffer())).ensureAlpha().raw().toBuffer({ resolveWithObject: true }); // prettier-ignore
    for (const [x, y] of [[300, 500], [900, 300], [640, 300]]) expect(now.data[4 * (y * W + x)]).toBe(original[4 * (y * W + x)]); // prettier-ignore
    // with Alt it takes away
    await b.hold(Key.ALT);
    await b.drag([[655, 95], [665, 88]]); // prettier-ignore
    await b.release(Key.ALT);
    await b.saved();
    await until("the boom back", async () => (await grey(660, 90)) < boom + 10);
    const shapes = own(await patch(0)).shapes;
    expect(shapes.map((x) => x.kind)).toEqual(["painted"]);
    expect((shapes[0] as { strokes: { erase?: boolean }[] }).strokes.map((s) => !!s.erase)).toEqual([false, true]);
    // the hole is shown unmistakably: hatched dark and light
    await b.hold("j");
    await until("the hole", async () => {
      const p = await b.pixels();
      const row = Array.from({ length: 40 }, (_, i) => p.data[4 * (60 * W + 740 + i)]);
      return Math.max(...row) > 200 && Math.min(...row) < 60;
    });
    await b.release("j");
    await undo(3);
  });

  it("a picture is a mask by its brightness, on the screen and in what is written", async () => {
    const file = join(dl, "matte.png");
    const px = Buffer.alloc(W * H * 3);
    for (let y = 0; y < 200; y++) for (let x = 560; x < 960; x++) px.fill(255, 3 * (y * W + x), 3 * (y * W + x) + 3);
    await sharp(px, { raw: { width: W, height: H, channels: 3 } }).png().toFile(file); // prettier-ignore
    await (await d.findElement(By.css('input[aria-label="A picture as a mask"]'))).sendKeys(file);
    await until("the picture in the mask", async () => own(await patch(0)).shapes.some((s) => s.kind === "picture"));
    await b.saved();
    await b.exact();
    await b.hold("m");
    await until("the matte", async () => (await grey(600, 100)) > 253 && (await grey(940, 190)) > 253);
    await b.release("m");
    await sameAsEngine(55);
    const id = await shotId();
    // and it goes along with the recipe
    const zip = Buffer.from(await (await fetch(`${app.url}/api/shots/${id}/recipe`)).arrayBuffer());
    expect(zip.subarray(0, 2).toString()).toBe("PK");
    expect(zip.includes("pictures/")).toBe(true);
    await undo();
  });
});

describe("masks and layers", () => {
  it("a mask is shared: changed once, it changes for all; and a layer is copied to another intruder", async () => {
    await (await d.findElement(By.xpath("//select[@aria-label='Whose mask it is']/option[contains(., 'share this one')]"))).click();
    await b.saved();
    await (await d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Shadow')]"))).click();
    await (await d.findElement(By.xpath("//select[@aria-label='Whose mask it is']/option[contains(., 'mask of Boom')]"))).click();
    await b.saved();
    const r = await recipe();
    expect(Object.keys(r.masks ?? {})).toHaveLength(1);
    await b.field("Feather", "22");
    await b.saved();
    expect(Object.values((await recipe()).masks!)[0].feather).toBe(22);
    await b.chord(Key.CONTROL, "c");
    await b.keys(Key.ESCAPE);
    await b.chord(Key.CONTROL, "v");
    await b.saved();
    expect((await patches()).filter((l) => "use" in l.mask)).toHaveLength(3);
    await undo(4);
  });

  it("a locked patch is not changed by the pointer, and says so; layers are put in another order", async () => {
    await (await d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Boom')]"))).click();
    await (await b.byLabel("Lock this patch")).click();
    await b.saved();
    const before = JSON.stringify(await recipe());
    await b.keys("6");
    await b.drag([[660, 90], [700, 120]]); // prettier-ignore
    await until("it is said", async () => (await (await d.findElement(By.css("body"))).getText()).includes("Boom is locked"));
    expect(JSON.stringify(await recipe())).toBe(before);
    await (await b.byLabel("Unlock this patch")).click();
    const row = await b.byLabel("Move the row of Boom");
    await b.dragElement(row, 0, 34);
    await b.saved();
    expect((await recipe()).intruders.map((i) => i.name)).toEqual(["Shadow", "Boom"]);
    await undo(3);
  });

  it("the chosen source stays from frame to frame", async () => {
    await (await d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Boom')]"))).click();
    await press("Slip");
    await b.field("Slip", "28-55");
    await b.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    await b.exact();
    expect(await b.fieldValue("Slip")).toBe("-27");
    expect((await patch(0)).source).toMatchObject({ slip: -27 });
    await undo(2);
  });
});

describe("looking", () => {
  it("wipes between original and mended picture with a line that is dragged", async () => {
    await goTo(55);
    await b.keys("8");
    await until("the wipe", async () => (await count('[data-testid="wipe-bar"]')) === 1);
    const shownAt = async (x: number, y: number) => {
      const at = await b.at(x, y);
      const shot = await sharp(Buffer.from(await d.takeScreenshot(), "base64")).removeAlpha().extract({ left: at.x - 1, top: at.y - 1, width: 3, height: 3 }).raw().toBuffer(); // prettier-ignore
      return shot.reduce((s, v) => s + v, 0) / shot.length;
    };
    await b.keys("h");
    const bar = await b.find('[data-testid="wipe-bar"]');
    await b.dragElement(bar, 180, 0); // the boom lies before the line: the original shows it
    await until("the boom before the line", async () => (await shownAt(660, 90)) < 90);
    await b.dragElement(bar, -260, 0);
    await until("the boom gone behind the line", async () => (await shownAt(660, 90)) > 140);
    await b.keys("8", "9");
    // the difference: grey where nothing changed, far from it in the boom
    await until("the difference", async () => Math.abs((await grey(300, 600)) - 128) < 2 && Math.abs((await grey(660, 90)) - 128) > 60);
    await b.keys("9", "0");
    const pane = await b.find('[data-testid="original"]');
    await until(
      "side by side",
      async () =>
        (await pane.getRect()).width > 200 &&
        Math.abs((await pane.getRect()).width - (await (await b.find('[data-testid="picture"]')).getRect()).width) < 2,
    );
    await b.keys("0", "h");
    await b.exact();
  });

  it("the picture stands alone on the whole screen, and comes back", async () => {
    await b.keys("z");
    await b.find('[data-testid="alone"]');
    await until(
      "the picture from side to side",
      async () => (await (await b.find('[data-testid="picture"]')).getRect()).width > (await d.executeScript<number>("return innerWidth")) - 60,
    );
    await b.keys("z");
    await until("the editor", async () => (await count("aside[aria-label=Ledger]")) === 1 && (await d.executeScript("return innerWidth")) === 1280);
  });

  it("plays a marked stretch round and round in step with its sound, backward, and stops at a step", async () => {
    await goTo(30);
    await b.chord(Key.SHIFT, "i");
    await goTo(50);
    await b.chord(Key.SHIFT, "o");
    await b.find('[data-testid="marked"]');
    await b.keys(" ");
    const seen = new Set<number>();
    // however slow the machine: until it has shown some frames, and has come round at least once if it is quick
    const end = Date.now() + 1600;
    await until("some frames", async () => (seen.add(await b.frame()), seen.size > 3 && Date.now() > end));
    await b.keys(" ");
    expect([...seen].filter((n) => n < 30 || n > 50)).toEqual([]);
    await goTo(45);
    await b.chord(Key.SHIFT, " ");
    await until("it to run backward", async () => (await b.frame()) < 44);
    await b.keys(Key.ARROW_LEFT);
    await until("it to stand", async () => (await count('[data-testid="dropped"]')) === 0);
    await b.chord(Key.SHIFT, "u");
    await until("no stretch", async () => (await count('[data-testid="marked"]')) === 0);
  });
});

describe("counting and keys", () => {
  it("frames are counted from any number, or by timecode, and gone to by either", async () => {
    await b.chord(Key.SHIFT, "/");
    await b.field("First frame is", "1001");
    await press("Done");
    await goTo("1001+55");
    expect(await b.frame()).toBe(55);
    expect(await b.fieldValue("Go to frame")).toBe("frame 1056");
    await goTo("+10");
    expect(await b.frame()).toBe(65);
    await (await b.byLabel("Frame numbers or timecode")).click();
    expect(await b.fieldValue("Go to frame")).toMatch(/frame 10:04:2\d:\d\d/);
    await goTo("10:04:22:07");
    expect(await b.frame()).toBe(55);
    await (await b.byLabel("Frame numbers or timecode")).click();
    await b.chord(Key.SHIFT, "/");
    await b.field("First frame is", "0");
    await press("Done");
  });

  it("a key is given to something else, holds after a reload, and a collision is refused with the reason", async () => {
    await b.chord(Key.SHIFT, "/");
    await (await b.byLabel("Key for Handles off or on")).click();
    await b.keys("k");
    await until("the reason", async () =>
      (await (await d.findElement(By.css("[role=dialog]"))).getText()).includes("K is taken by “Opacity keyframe here, on or off”"),
    );
    await (await b.byLabel("Key for Handles off or on")).click();
    await b.chord(Key.CONTROL, "w");
    await until("the reason", async () => (await (await d.findElement(By.css("[role=dialog]"))).getText()).includes("belongs to the browser"));
    await (await b.byLabel("Key for Handles off or on")).click();
    await b.keys(";");
    await until(
      "the key",
      async () =>
        (await (await b.byLabel("Key for Handles off or on")).getText()) === "SEMICOLON" ||
        (await (await b.byLabel("Key for Handles off or on")).getText()) === ";",
    );
    await press("Done");
    await d.navigate().refresh();
    await b.exact();
    await (await d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Boom')]"))).click();
    await until("handles", async () => (await count('[data-testid="name-tag"]')) === 1);
    await b.keys(";");
    await until("no handles", async () => (await count('[data-testid="name-tag"]')) === 0);
    await b.keys("h");
    expect(await count('[data-testid="name-tag"]')).toBe(0);
    await b.keys(";");
    await b.chord(Key.SHIFT, "/");
    await press("All keys as they were");
    await press("Done");
  });
});

describe("undo", () => {
  it("is named, leads back and on in a list, and is there after a restart", async () => {
    await b.keys("6");
    const boom = await patch(0);
    await b.chord(Key.CONTROL, "a");
    await b.chord(Key.SHIFT, "d");
    await b.saved();
    await b.byLabel("Undo: nudge 7 points of Boom");
    await b.field("Feather", "44");
    await b.saved();
    await d.get("about:blank");
    await app.stop();
    app = await startApp("demo", data, { UMBER_DEMO: "1" });
    session = new Session(app);
    await b.open(app.url, "Ticket hall");
    await b.byLabel("Undo: feather of Boom: 44px");
    await b.chord(Key.SHIFT, "h");
    const entry = (name: string) => until(name, () => d.findElement(By.xpath(`//div[@role='dialog']//button[contains(., ${JSON.stringify(name)})]`)));
    await (await entry("Make frame 28 a plate")).click();
    await until("back to the plate alone", async () => (await recipe()).intruders.length === 0);
    await (await entry("Feather of Boom: 44px")).click();
    await until("on again", async () => own(await patch(0)).feather === 44);
    await press("Close");
    await undo(2);
    await until("as it was", async () => JSON.stringify(await patch(0)) === JSON.stringify(boom));
    expect((await complaints(d)).filter((m) => !/favicon|net::ERR|about:blank|willReadFrequently/.test(m))).toEqual([]);
  });

  it("what is rendered without a screen is the truth: the moving oval and the outline, frame by frame", async () => {
    await press("Render");
    await (await b.byText("Save the recipe as a file")).click();
    const file = await until("the recipe", async () => {
      const f = readdirSync(dl).find((n) => n.endsWith(".recipe.json"));
      return f && readFileSync(join(dl, f), "utf8").length > 100 && join(dl, f);
    });
    copyFileSync(join(ROOT, "demo/takes/hall.mp4"), join(dl, "Ticket hall.mp4"));
    const out = join(dl, "out.mkv");
    const r = spawnSync(join(ROOT, "umber"), ["render", file, "--out", out, "--codec", "ffv1"], { encoding: "utf8" });
    expect(r.status, r.stderr).toBe(0);
    const size = W * H;
    const [take, mended] = [join(ROOT, "demo/takes/hall.mp4"), out].map((f) => decodeAll(f, "gray"));
    // outside both patches not a sample differs, in any frame
    let differ = 0;
    for (const n of [0, 30, 55, 80, 95]) for (let i = 420 * W; i < size; i++) if (take[n * size + i] !== mended[n * size + i]) differ++;
    expect(differ).toBe(0);
    const against = await againstTruth(app.url, "hall", await shotId(), 55);
    expect(against.after).toBeGreaterThan(against.before + 8);
  });
});
