import { writeFile } from "node:fs/promises";
import { join } from "node:path";
import { Origin, type WebDriver } from "selenium-webdriver";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Picture, Truth } from "../benchmarks/truth/truth";
import { frames } from "../demo/make/decode";
import { blur } from "../demo/make/image";
import type { Touch } from "../src/core/document/touch";
import type { Rect } from "../src/core/pixels/frame";
import { type App, ROOT, until } from "./support/app";
import { startReady } from "./support/ready";
import { EditorDriver, Button, By, downloads, Key, openBrowser } from "./support/browser";

/** Retouching by pointer and keys, on single frames and on a held plate; what comes out is held against the truth. */
let app: App;
let d: WebDriver;
let b: EditorDriver;

beforeAll(async () => {
  app = await startReady();
  d = await openBrowser(downloads());
  b = new EditorDriver(d);
  await until(
    "the takes to be read",
    async () => ((await (await fetch(`${app.url}/api/state`)).json()) as { productions: { shots: unknown[] }[] }).productions[0]?.shots.length === 7,
  );
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

/** Luma of a picture of the open shot as 8-bit code values (BT.709, limited), with its R, G and B. */
async function still(query: string): Promise<{ width: number; luma: Float32Array; rgb: Buffer }> {
  const shot = /shots\/([^/?]+)/.exec(await d.getCurrentUrl())![1];
  const r = await fetch(`${app.url}/api/shots/${shot}/still?${query}`);
  expect(r.status).toBe(200);
  const { data, info } = await sharp(Buffer.from(await r.arrayBuffer()))
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const luma = new Float32Array(info.width * info.height);
  for (let i = 0; i < luma.length; i++) luma[i] = 16 + (219 / 255) * (0.2126 * data[3 * i] + 0.7152 * data[3 * i + 1] + 0.0722 * data[3 * i + 2]);
  return { width: info.width, luma, rgb: data };
}

/** PSNR in dB of a picture's luma against the truth over a box, where `where` says. */
function against(truth: Picture, box: Rect, got: { width: number; luma: Float32Array }, where: (i: number) => boolean): number {
  let [sum, n] = [0, 0];
  for (let i = 0; i < truth.y.length; i++) {
    if (!where(i)) continue;
    sum += (got.luma[(box.y0 + Math.floor(i / truth.width)) * got.width + box.x0 + (i % truth.width)] - truth.y[i]) ** 2;
    n++;
  }
  return 10 * Math.log10((255 * 255 * n) / sum);
}
const chooseSource = async (words: string) => (await b.find('select[aria-label="Takes its picture from"]')).sendKeys(words);
/** Waits until nothing is worked out any more, for a while, and everything is stored. */
const settled = async () => {
  await b.saved();
  let since = Date.now();
  await until("the end of the work", async () => {
    if ((await d.findElements(By.css("main [role=status]"))).length) since = Date.now();
    return Date.now() - since > 400;
  });
  await b.exact();
};

interface Stored {
  recipe: { plates: Record<string, { touches: Touch[] }> };
}
/** The touches of the plate, as they are stored. */
async function touches(): Promise<Touch[]> {
  await b.saved();
  const shot = /shots\/([^/?]+)/.exec(await d.getCurrentUrl())![1];
  const { recipe } = (await (await fetch(`${app.url}/api/shots/${shot}`)).json()) as Stored;
  return Object.values(recipe.plates)[0].touches;
}
const grey = (x: number, y: number, r?: number) => b.grey(x, y, r);
const list = () => d.findElements(By.css('section[aria-label="Touches"] li'));

describe("the tools, on a plate", () => {
  it("moves, zooms and pinches without ever painting", async () => {
    await b.open(app.url, "Ticket hall");
    await b.keys("p");
    await b.saved();
    await (await b.byLabel("Retouch Frame 0")).click();
    await b.exact();
    await b.hover(200, 150);
    await b.keys("1", "x");
    const where = await b.at(640, 360);
    await b.hold("g");
    await b.drag([
      [640, 360],
      [700, 400],
    ]);
    await b.release("g");
    await b.drag(
      [
        [640, 360],
        [500, 300],
      ],
      Button.MIDDLE,
    );
    await b.keys("a", "w", "s", "s");
    expect(await b.at(640, 360)).not.toEqual(where);
    await d.executeScript(`
      const el = document.querySelector('[data-testid=retouch-layer]');
      const r = el.getBoundingClientRect();
      const at = (type, id, x, y) => el.dispatchEvent(new PointerEvent(type, { bubbles: true, cancelable: true, pointerType: 'touch', pointerId: id, isPrimary: id === 11, button: 0, buttons: 1, clientX: r.left + x, clientY: r.top + y }));
      at('pointerdown', 12, 300, 200); at('pointerdown', 13, 340, 200);
      for (let i = 0; i < 10; i++) { at('pointermove', 12, 300 - 8 * i, 200); at('pointermove', 13, 340 + 8 * i, 200); }
      at('pointerup', 12, 228, 200); at('pointerup', 13, 412, 200);`);
    const zoomed = Number(/(\d+) %/.exec(await (await b.find("main")).getText())![1]);
    expect(zoomed).toBeGreaterThan(100);
    expect(await touches()).toHaveLength(0);
    await b.keys("f");
  });

  it("sizes the brush by pulling its ring, draws straight lines between clicks, heals a mark by one dab", async () => {
    await b.hold("r");
    await b.drag([
      [640, 300],
      [660, 300],
      [672, 300],
    ]);
    await b.release("r");
    expect(Math.abs(Number(await b.fieldValue("Size")) - 64)).toBeLessThan(8);
    await b.field("Size", "30");
    await b.field("Hardness", "90");
    const dark = await grey(735, 490, 1); // the suitcase
    await b.click(690, 490);
    await d
      .actions()
      .keyDown(Key.SHIFT)
      .move({ ...(await b.at(770, 490)), origin: Origin.VIEWPORT })
      .click()
      .keyUp(Key.SHIFT)
      .perform();
    await until("the line", async () => (await grey(735, 490, 1)) > dark + 25);
    const [, line] = await touches();
    expect(line.path).toHaveLength(2);
    // a note on the cork board
    await b.keys("3");
    await b.field("Size", "64");
    const note = await grey(335, 195);
    await b.click(335, 195);
    await until("the heal", async () => Math.abs((await grey(335, 195)) - note) > 20);
  });

  it("paints nothing outside the fence, and takes it away again", async () => {
    await b.keys("1");
    await (await b.byText("Draw a fence")).click();
    await b.stroke([
      [900, 80],
      [1000, 80],
      [1000, 200],
      [900, 200],
      [900, 82],
    ]);
    expect(await (await b.byText("Draw another")).getAttribute("aria-pressed")).toBe("false");
    const [inside, outside] = [await grey(985, 140, 1), await grey(1015, 140, 1)];
    await b.hover(740, 500);
    await b.keys("x");
    await b.field("Size", "60");
    await b.click(1000, 140);
    await until("the dab", async () => Math.abs((await grey(985, 140, 1)) - inside) > 15);
    expect(Math.abs((await grey(1015, 140, 1)) - outside)).toBeLessThan(1);
    expect((await touches()).at(-1)!.fence).toHaveLength(1);
    await (await b.byLabel("Clear: draw another")).click();
  });

  it("changes, switches off, reorders and deletes a touch that was laid; only that is another", async () => {
    const before = await touches();
    const inside = await grey(985, 140, 1);
    await (await b.byLabel(`Touch ${before.length}: clone`)).click();
    await b.field("Opacity", "0");
    await until("no dab", async () => Math.abs((await grey(985, 140, 1)) - inside) > 15);
    await b.chord(Key.CONTROL, "z");
    await until("the dab again", async () => Math.abs((await grey(985, 140, 1)) - inside) < 2);
    await (await b.byLabel("Lay it earlier")).click();
    expect((await touches()).map((t) => t.id)).toEqual([...before.slice(0, -2), before.at(-1)!, before.at(-2)!].map((t) => t.id));
    await b.keys(Key.DELETE);
    expect(await touches()).toHaveLength(before.length - 1);
    await until("the wall", async () => Math.abs((await grey(985, 140, 1)) - inside) > 15);
  });

  it("fills, offers other tries, and takes a fill back that is stopped", async () => {
    await b.keys("5");
    await (await b.byText("draw round")).click();
    await b.stroke([
      [690, 420],
      [775, 420],
      [775, 500],
      [690, 500],
      [690, 422],
    ]);
    await settled();
    const filled = await touches();
    expect(filled.at(-1)!.kind).toBe("fill");
    const more = await b.byText("Four other tries");
    await until("an end of the work", () => more.isEnabled());
    await more.click();
    const tries = await until(
      "the tries",
      async () => {
        // the fill itself may have taken the picture's worker once more between the look at the button and the click
        if (!(await d.findElements(By.css("button[aria-label^='Take try']"))).length && (await more.isEnabled())) await more.click();
        const all = await d.findElements(By.xpath("//button[starts-with(@aria-label,'Take try') and not(@disabled)]"));
        return all.length === 4 && all;
      },
      900_000,
    );
    await tries[2].click();
    await settled();
    expect((await touches()).at(-1)!.seed).toBe(3);
    await (await b.byText("Back to the brush")).click();
    await b.stroke([
      [100, 60],
      [1180, 60],
      [1180, 660],
      [100, 660],
      [100, 62],
    ]);
    await until("the work", async () => (await d.findElements(By.css("main [role=status]"))).length === 1);
    await (await b.byText("Stop")).click();
    await until("the fill to be taken back", async () => (await list()).length === filled.length);
    await settled();
    expect((await touches()).map((t) => t.id)).toEqual(filled.map((t) => t.id));
    await b.keys(Key.ESCAPE, Key.ESCAPE);
  });
});

describe("frame by frame", () => {
  const truth = new Truth("letter");
  const box = truth.known;
  const [w, h] = [box.x1 - box.x0, box.y1 - box.y0];
  const FRAMES = [12, 13];
  const CELL = 18;

  /** What a person sees on a frame: where the rig and its shadow are, and where the letter and the shadow that is its own. */
  function* seen() {
    const [empty] = [...truth.clean([59], box)];
    const cleans = truth.clean(FRAMES, box);
    const mattes = truth.mattes(FRAMES, box);
    const shadows = frames(join(ROOT, "demo/truth/letter-shadow.mkv"), FRAMES, "gray", 1600 * 900);
    const gains = truth.facts.light.gain as number[];
    for (const n of FRAMES) {
      const clean = cleans.next().value as Picture;
      const matte = mattes.next().value as Uint8Array;
      const shadow = shadows.next().value as Buffer;
      const off = Float32Array.from(clean.y, (v, i) => Math.abs(v - 16 - (gains[n] / gains[59]) * (empty.y[i] - 16)));
      const letter = blur(off, w, h, 1, 1.5).map((v) => (v > 2.5 ? 1 : 0));
      const rig = Uint8Array.from(matte, (v, i) => (v > 20 || shadow[(box.y0 + Math.floor(i / w)) * 1600 + box.x0 + (i % w)] > 24 ? 1 : 0));
      yield { n, clean, letter, rig };
    }
  }

  /** Strokes over the rig where it lies on the desk, none of them across the letter; as a hand would draw them, from near to near. */
  function strokes(rig: Uint8Array, letter: Float32Array): [number, number][][] {
    const cells: [number, number][] = [];
    for (let y = 0; y + CELL <= h; y += CELL)
      for (let x = 0; x + CELL <= w; x += CELL) {
        let [s, l] = [0, 0];
        for (let j = 0; j < CELL; j++)
          for (let i = 0; i < CELL; i++) {
            s += rig[(y + j) * w + x + i];
            l += letter[(y + j) * w + x + i];
          }
        if (s > 4 && l < CELL * CELL * 0.2) cells.push([x + CELL / 2, y + CELL / 2]);
      }
    const clear = (a: number[], c: number[]) => {
      for (let t = 0; t <= 1; t += 0.05) if (letter[Math.round(a[1] + t * (c[1] - a[1])) * w + Math.round(a[0] + t * (c[0] - a[0]))]) return false;
      return true;
    };
    const out: [number, number][][] = [[cells.shift()!]];
    while (cells.length) {
      const a = out.at(-1)!.at(-1)!;
      const far = (c: [number, number]) => Math.hypot(c[0] - a[0], c[1] - a[1]);
      const i = cells.reduce((best, c, k) => (far(c) < far(cells[best]) ? k : best), 0);
      const [c] = cells.splice(i, 1);
      if (far(c) < 150 && clear(a, c)) out.at(-1)!.push(c);
      else out.push([c]);
    }
    return out.filter((s) => s.length > 1).map((s) => s.map(([x, y]) => [x + box.x0, y + box.y0]));
  }

  it("takes wire, putty and shadow out of two frames with the empty frame as source; the letter's own shadow stays", async () => {
    await b.open(app.url, "Letter");
    await b.keys("b", "2");
    await chooseSource("a frame");
    expect(await b.fieldValue("Frame")).toBe("59"); // the last, empty frame offers itself
    await b.field("Size", "36");
    await b.field("Hardness", "30");
    for (let i = 0; i < FRAMES[0]; i++) await b.keys(Key.ARROW_RIGHT);
    let laid = 0;
    for (const { n, clean, letter, rig } of seen()) {
      expect(await b.frame()).toBe(n);
      await b.exact();
      const all = strokes(rig, letter);
      laid += all.length;
      for (const s of all) await b.stroke(s);
      await b.saved();
      const after = await still(`what=frame&frame=${n}`);
      const onDesk = (i: number) => rig[i] === 1 && letter[i] === 0;
      expect(against(clean, box, after, onDesk), `frame ${n}, on the desk`).toBeGreaterThan(37);
      await b.keys(Key.ARROW_RIGHT); // tool, source and size stay
      if (n % 4) continue;
      const before = await still(`what=original&frame=${n}`);
      expect(against(clean, box, before, onDesk), `frame ${n}, before`).toBeLessThan(24);
      // the letter and its own shadow, beside the brush, are what they were to the sample
      let changed = 0;
      let kept = 0;
      for (let i = 0; i < letter.length; i++) {
        if (!letter[i] || rig[i]) continue;
        const k = 3 * ((box.y0 + Math.floor(i / w)) * 1600 + box.x0 + (i % w));
        kept++;
        if (before.rgb[k] !== after.rgb[k] || before.rgb[k + 1] !== after.rgb[k + 1]) changed++;
      }
      expect(changed / kept, `frame ${n}, the letter`).toBeLessThan(0.08);
      expect(await b.fieldValue("Size")).toBe("36");
    }
    expect(laid / FRAMES.length).toBeLessThan(7);
  });

  it("carries the last frame's touches on, as they are and moved to the pointer, and lets one hold over several frames", async () => {
    expect(await b.frame()).toBe(14);
    expect((await list()).length).toBe(0);
    const before = await still("what=frame&frame=14");
    await b.keys("c");
    await b.saved();
    const carried = (await list()).length;
    expect(carried).toBeGreaterThan(0);
    const after = await still("what=frame&frame=14");
    expect(after.rgb.equals(before.rgb)).toBe(false);
    await b.chord(Key.CONTROL, "z");
    await until("undo", async () => (await list()).length === 0);
    await b.field("Holds for", "3");
    await b.click(1000, 700);
    await b.saved();
    await b.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    expect((await list()).length).toBe(1);
    await b.keys(Key.ARROW_RIGHT);
    expect((await list()).length).toBe(0);
    await b.keys(Key.ESCAPE);
  });
});

describe("a held plate", () => {
  const truth = new Truth("office");
  const box = truth.known;
  const at = (list: number[][]) => list.map(([x, y]) => [x + box.x0, y + box.y0] as [number, number]);

  async function brush(size: number, hardness = 100) {
    await b.field("Size", String(size));
    await b.field("Hardness", String(hardness));
  }
  /** Leaves the touch that is selected, for the tool again. */
  const toTool = async () => {
    for (const button of await d.findElements(By.xpath("//button[normalize-space(.)='Back to the brush']"))) await button.click();
  };
  /** Brushes over an area to be filled, after the lines that are to be carried on through it are drawn. */
  async function fill(path: number[][], lines: number[][] = []) {
    await toTool();
    const clear = await b.byLabel("Clear: carry on a line");
    if (await clear.isEnabled()) await clear.click();
    if (lines.length) {
      await (await b.byText("Carry on a line")).click();
      for (const [x0, y0, x1, y1] of lines)
        await b.drag(
          at([
            [x0, y0],
            [x1, y1],
          ]),
        );
      await b.keys(Key.ESCAPE);
    }
    await b.stroke(at(path));
    await settled();
  }
  it("takes the top of the stepladder and the mirror image out of the office, by retouching alone", async () => {
    await b.open(app.url, "Ticket office");
    await b.keys("p");
    await b.saved();
    const id = Object.keys(
      ((await (await fetch(`${app.url}/api/shots/${/shots\/([^/?]+)/.exec(await d.getCurrentUrl())![1]}`)).json()) as { recipe: { plates: object } })
        .recipe.plates,
    )[0];
    await (await b.byLabel("Retouch Frame 0")).click();
    await b.exact();
    await b.keys("5");
    await brush(34);
    // prettier-ignore
    {
      await fill([[674, 62], [658, 62], [690, 62], [658, 88], [690, 88], [674, 97], [612, 106], [735, 106], [735, 112], [625, 112], [620, 228], [738, 228], [620, 228], [614, 297], [738, 297], [640, 297]], [[662, 10, 660, 330], [677, 10, 675, 330]]);
      // the mirror image in the glass, from beside it
      await toTool();
      await b.keys("1");
      await brush(40, 40);
      await b.hover(box.x0 + 430, box.y0 + 152);
      await b.keys("x");
      await b.stroke(at([[496, 152], [496, 380], [480, 380], [464, 384], [488, 200], [470, 384], [496, 384], [496, 160]]));
      await settled();
    }
    const [clean] = [...truth.clean([0], box)];
    const [matte] = [...truth.mattes([0], box)];
    const wide = box.x1 - box.x0;
    /** What was gone over: all of the mirror image, and of the ladder its top between its rails. */
    const reached = (x: number, y: number) => x < 520 || (x > 560 && x < 715 && y < 285);
    const thing = (i: number) => matte[i] > 20 && reached(i % wide, Math.floor(i / wide));
    const [before, after] = [await still("what=original&frame=0"), await still(`what=plate&frame=0&plate=${id}`)];
    if (process.env.UMBER_KEEP)
      await writeFile(
        process.env.UMBER_KEEP,
        await sharp(after.rgb, { raw: { width: 1920, height: 1080, channels: 3 } })
          .png()
          .toBuffer(),
      );
    expect(against(clean, box, before, thing)).toBeLessThan(34);
    expect(against(clean, box, after, thing)).toBeGreaterThan(39);
    // nothing else has changed: left of the glass's mirror image, and right of the shelves' edge
    for (const x of [box.x0 + 200, box.x0 + 1000])
      for (let y = 0; y < 1080; y++) expect(after.rgb[3 * (y * 1920 + x)]).toBe(before.rgb[3 * (y * 1920 + x)]);
  });
});
