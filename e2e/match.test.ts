import { writeFileSync } from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { WebDriver } from "selenium-webdriver";
import type { PatchLayer } from "../src/core/document/layer";
import { type App, until } from "./support/app";
import { EditorDriver, downloads, Key, openBrowser } from "./support/browser";
import { startReady } from "./support/ready";
import { Session } from "./support/session";
import { still } from "./support/truth";

/** A patch of one held frame over footage that flickers and has grain: it stands out, and after one click no longer. The area is clean, so the footage itself is the truth. */
let app: App;
let d: WebDriver;
let b: EditorDriver;
let session: Session;
let shot: string;

beforeAll(async () => {
  app = await startReady();
  d = await openBrowser(downloads());
  b = new EditorDriver(d);
  session = new Session(app);
  shot = (await session.shot("Letter")).id;
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

const FRAMES = [4, 39];
const BOX = { x0: 90, y0: 90, x1: 250, y1: 210 };
/** Room that the patch's soft edge takes. */
const EDGE = 14;
const luma = (data: Buffer, at: number) => 0.2126 * data[at] + 0.7152 * data[at + 1] + 0.0722 * data[at + 2];

/** Luma within the patch of one exported frame. */
async function within(what: "frame" | "original", n: number): Promise<number[]> {
  const { data, info } = await still(app.url, shot, what, n);
  const out: number[] = [];
  for (let y = BOX.y0 + EDGE; y < BOX.y1 - EDGE; y++)
    for (let x = BOX.x0 + EDGE; x < BOX.x1 - EDGE; x++) out.push(luma(data, (y * info.width + x) * info.channels));
  return out;
}
const all = async (what: "frame" | "original") => {
  const out: number[][] = [];
  for (const n of FRAMES) out.push(await within(what, n));
  return out;
};
let footage: number[][] | null = null;
const mean = (v: number[]) => v.reduce((a, c) => a + c, 0) / v.length;
/** How far the patch's brightness is off at worst, and its energy in time against that of the footage, a frame's own brightness taken off. */
async function measured() {
  footage ??= await all("original");
  const shotAs = footage;
  const mended = await all("frame");
  const off = Math.max(...mended.map((m, k) => Math.abs(mean(m) - mean(shotAs[k]))));
  const energy = (of: number[][]) => {
    let s = 0;
    for (let k = 1; k < of.length; k++) {
      const [ma, mc] = [mean(of[k - 1]), mean(of[k])];
      s += mean(of[k - 1].map((v, i) => (of[k][i] - mc - (v - ma)) ** 2));
    }
    return s;
  };
  return { off, grain: energy(mended) / energy(shotAs) };
}
/** What the card says of one part of the matching. */
const figure = async (part: string) => Number(/[\d.]+/.exec(await (await b.byLabel(`How far off: ${part}`)).getText())?.[0] ?? NaN);
const layer = async () => (await session.document(shot)).recipe.intruders[0].layers[0] as PatchLayer;

describe("a held patch over flickering footage", () => {
  it("stands out, and no longer once light and grain are matched; what is written is that", async () => {
    await b.open(app.url, "Letter");
    await b.keys("p");
    await b.saved();
    await b.keys("4");
    await b.drag([
      [BOX.x0, BOX.y0],
      [BOX.x1, BOX.y1],
    ]);
    await b.field("Feather", "6");
    await b.saved();
    const before = await measured();
    console.log("before", before);
    expect(before.off).toBeGreaterThan(2);
    expect(before.grain).toBeLessThan(0.1);
    await (await b.byText("Match")).click();
    // on the frame it is a picture of nothing is off; on another the light is
    await until("the figure there", async () => (await figure("light")) < 0.1);
    await b.field("Go to frame", "39");
    await b.exact();
    await until("the figure", async () => (await figure("light")) > 1);
    expect(await figure("grain")).toBe(0);
    await (await b.byText("Match light and grain")).click();
    await until("the grain", async () => (await layer()).grain);
    await b.exact();
    const after = await measured();
    console.log("after", after);
    expect(after.off).toBeLessThan(0.4);
    expect(after.grain).toBeGreaterThan(0.5);
    expect(after.grain).toBeLessThan(1.18);
    const { light } = await layer();
    expect(light).toEqual({ by: "rim" });
    await until("the figures", async () => (await figure("light")) < 0.8 && (await figure("grain")) > 0.85);
    if (process.env.UMBER_LOOK) writeFileSync(process.env.UMBER_LOOK, Buffer.from(await d.takeScreenshot(), "base64"));
    // an eye shuts the light out of the picture, and not out of the recipe
    await (await b.byLabel("Look without the light")).click();
    await until("the figure without it", async () => (await figure("light")) > 1);
    expect((await layer()).light).toEqual({ by: "rim" });
    await (await b.byLabel("Show the light")).click();
    await b.exact();
  });

  it("what is on the screen is what is written, sample for sample", async () => {
    await b.field("Go to frame", "18");
    await b.exact();
    const shown = await b.pixels();
    const { data, info } = await still(app.url, shot, "frame", 18);
    expect([shown.width, shown.height]).toEqual([info.width, info.height]);
    let differ = 0;
    for (let i = 0; i < shown.width * shown.height; i++)
      for (let k = 0; k < 3; k++) if (shown.data[4 * i + k] !== data[info.channels * i + k]) differ++;
    expect(differ).toBe(0);
  });

  it("a box drawn over a flat area gives its grain; undo brings the one before back", async () => {
    const before = (await layer()).grain!.profile;
    await b.drag([
      [300, 60],
      [420, 150],
    ]);
    await until("another profile", async () => (await layer()).grain!.profile !== before);
    const { recipe } = await session.document(shot);
    expect(recipe.profiles![(await layer()).grain!.profile].name).toBe("From an area at 300, 60");
    await (await b.byText("Keep for other shots …")).click();
    await (await b.byLabel("Name of the grain")).sendKeys(Key.chord(Key.CONTROL, "a"), "Paper, flat", Key.ENTER);
    const data = recipe.profiles![(await layer()).grain!.profile].data;
    await until("it to be kept", async () => {
      const { profiles } = await session.get<{ profiles: { name: string; data: string }[] }>("/api/preferences");
      return profiles.some((p) => p.name === "Paper, flat" && p.data === data);
    });
    await b.chord(Key.CONTROL, "z");
    await until("the one before", async () => (await layer()).grain!.profile === before);
    // it is offered where the recipe has it no more
    await (await b.find("section[aria-label=Grain] select option[value^=kept]")).click();
    await until("the kept one", async () => {
      const { recipe: now } = await session.document(shot);
      return now.profiles![(await layer()).grain!.profile].name === "Paper, flat";
    });
  });

  it("the flicker itself is steadied by one click, and by another it is rendered as it was taken", async () => {
    /** Brightness of the desk beside all patches, in some frames. */
    const desk = async (what: "frame" | "original") => {
      const out: number[] = [];
      for (const n of [10, 11, 16]) {
        const { data, info } = await still(app.url, shot, what, n);
        let s = 0;
        for (let y = 90; y < 180; y++) for (let x = 300; x < 420; x++) s += luma(data, (y * info.width + x) * info.channels) / (90 * 120);
        out.push(s);
      }
      return out;
    };
    const swing = (of: number[]) => Math.max(...of) - Math.min(...of);
    const taken = await desk("original");
    expect(swing(taken)).toBeGreaterThan(2);
    await (await b.byText("Scout")).click();
    await (await b.byText("Steady it")).click();
    await until("the layer", async () => (await session.document(shot)).recipe.intruders.at(-1)?.name === "Flicker");
    await b.saved();
    expect(swing(await desk("frame"))).toBeLessThan(0.25 * swing(taken));
    await b.exact();
    if (process.env.UMBER_LOOK_FLICKER) await d.executeScript("document.querySelector('[aria-label=Card]').scrollTop = 330");
    if (process.env.UMBER_LOOK_FLICKER) writeFileSync(process.env.UMBER_LOOK_FLICKER, Buffer.from(await d.takeScreenshot(), "base64"));
    // half of it is taken off where that is wanted
    await b.field("Taken off", "50");
    await b.saved();
    const half = swing(await desk("frame")) / swing(taken);
    expect(half).toBeGreaterThan(0.3);
    expect(half).toBeLessThan(0.7);
    await b.field("Taken off", "100");
    await b.saved();
    await (await b.byText("While mending")).click();
    await until("both layers", async () => (await session.document(shot)).recipe.intruders.at(-1)?.layers.length === 2);
    await b.saved();
    expect(await desk("frame")).toEqual(taken);
    await (await b.byText("Leave it")).click();
    await until("no layer", async () => (await session.document(shot)).recipe.intruders.at(-1)?.name !== "Flicker");
    await b.saved();
    await (await b.byText("Match")).click();
  });

  it("a new patch is matched by itself, in one step, and says why", async () => {
    await (await b.byText("Match new patches by itself, where it is needed", "label")).click();
    await b.keys("4");
    await b.drag([
      [BOX.x0 + 900, BOX.y0],
      [BOX.x1 + 900, BOX.y1],
    ]);
    await b.saved();
    const laid = async () => (await session.document(shot)).recipe.intruders.flatMap((i) => i.layers) as PatchLayer[];
    const second = await until("the patch", async () => (await laid())[1]);
    expect(second.light).toEqual({ by: "whole" });
    await until("its grain", async () => (await laid())[1]?.grain);
    await (await b.byText("Match")).click();
    await until("the reason", async () => (await (await b.find("section[aria-label=Light]")).getText()).includes("the light flickers by"));
    await (await b.byText("Its own")).click();
    await b.saved();
    expect((await laid())[1].light).toBeUndefined();
    await until("the offer", async () => (await (await b.find("section[aria-label=Light]")).getText()).includes("It would be better matched"));
  });
});
