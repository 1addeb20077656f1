import { writeFileSync } from "node:fs";
import type { WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Truth } from "../benchmarks/truth/truth";
import type { PatchLayer } from "../src/core/document/layer";
import { maskOf } from "../src/core/document/recipe";
import { type App, until } from "./support/app";
import { By, downloads, EditorDriver, openBrowser } from "./support/browser";
import { startReady } from "./support/ready";
import { Session } from "./support/session";
import { againstTruth, still } from "./support/truth";

/** Who passes before a patch stays before it, and what drives through the picture goes, each by one loop. */
let app: App;
let d: WebDriver;
let b: EditorDriver;
let session: Session;
type Box = readonly [number, number, number, number];

beforeAll(async () => {
  app = await startReady();
  d = await openBrowser(downloads());
  b = new EditorDriver(d);
  session = new Session(app);
  for (const n of ["Ticket office", "Ticket office, second take", "Quay"]) await session.shot(n);
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

const press = async (text: string) => (await b.byText(text)).click();
const says = (what: RegExp) => until(`“${what}”`, async () => what.test(await d.findElement(By.css("body")).getText()));
const goTo = async (n: number) => {
  await b.field("Go to frame", String(n));
  await b.exact();
};
const drawn = async (shot: string) => {
  const { recipe } = await session.document((await session.shot(shot)).id);
  return maskOf(recipe, recipe.intruders[0].layers[0] as PatchLayer).shapes;
};
/** A loop round a box with so much room. */
const loopRound = ([x0, y0, x1, y1]: Box, room: number): [number, number][] => [
  [x0 - room, y0 - room],
  [x1 + room, y0 - room],
  [x1 + room, y1 + room],
  [x0 - room, y1 + room],
  [x0 - room, y0],
];
const patchOn = async (first: number, last: number) => {
  await b.field("First frame", String(first));
  await b.field("Last frame", String(last));
  await b.saved();
};

describe("a trolley that passes before a ladder", () => {
  const AT = 70;
  it("stays before the patch, frame by frame, and nothing is left of the ladder beside it", async () => {
    await b.open(app.url, "Ticket office");
    await press("Plate");
    await press("Align");
    await says(/brought into line: moved -1\.3[67], 0\.6[345] px, light × 1\.11/);
    await goTo(AT);
    await b.keys("2");
    await b.drag([[1360, 1076], [1425, 260], [1430, 166], [1604, 166], [1612, 290], [1900, 300], [1912, 900], [1700, 1076], [1362, 1076]]); // prettier-ignore
    await b.saved();
    await patchOn(AT - 1, AT + 1);
    await b.keys("2");
    await (await d.findElement(By.xpath("//option[normalize-space()='cut from mask']"))).click();
    await b.drag([[1010, 540], [1240, 520], [1520, 530], [1660, 600], [1680, 1070], [1010, 1070], [1008, 544]]); // prettier-ignore
    await until("the loop", async () => (await drawn("Ticket office")).length === 2);
    await b.saved();
    await press("Hold it out");
    await until("who passes", async () => (await drawn("Ticket office"))[1]?.kind === "cutout");
    await b.saved();
    const { id } = await session.shot("Ticket office");
    const above: Box = [1430, 180, 1600, 520];
    for (const n of [AT - 1, AT, AT + 1]) {
      const r = await againstTruth(app.url, "office", id, n, above);
      console.log(`office, frame ${n}: ${r.before.toFixed(1)} dB before, ${r.after.toFixed(1)} dB after`);
      expect(r.after).toBeGreaterThan(42);
      // the canvas of the trolley is the take's own, sample for sample
      const [mended, take] = [await still(app.url, id, "frame", n), await still(app.url, id, "original", n)];
      let differ = 0;
      for (let y = 800; y < 980; y++)
        for (let x = 1380; x < 1560; x++)
          for (let k = 0; k < 3; k++) {
            const i = (y * mended.info.width + x) * mended.info.channels + k;
            if (mended.data[i] !== take.data[i]) differ++;
          }
      expect(differ).toBe(0);
    }
    await goTo(AT);
    if (process.env.UMBER_LOOK_HELD_OUT) writeFileSync(process.env.UMBER_LOOK_HELD_OUT, Buffer.from(await d.takeScreenshot(), "base64"));
    // it is one switch: without it the ladder's patch lies over the trolley
    const [shape] = (await drawn("Ticket office")).slice(1);
    await (await b.byLabel(`Switch ${shape.name ?? "Cut-out 2"} off`)).click();
    await b.saved();
    const [mended, take] = [await still(app.url, id, "frame", AT), await still(app.url, id, "original", AT)];
    const at = (900 * mended.info.width + 1500) * mended.info.channels;
    expect(Math.abs(mended.data[at] - take.data[at])).toBeGreaterThan(10);
  });
});

describe("a fork-lift that drives through", () => {
  const AT = 71;
  it("goes by one loop over the plate built of the take, without a keyframe", async () => {
    const truth = new Truth("quay");
    const [matte] = [...truth.mattes([AT], truth.known)];
    const w = truth.known.x1 - truth.known.x0;
    let [x0, y0, x1, y1] = [Infinity, Infinity, 0, 0];
    matte.forEach((v, i) => {
      if (v < 128) return;
      const [x, y] = [truth.known.x0 + (i % w), truth.known.y0 + Math.floor(i / w)];
      [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
    });
    // new patches follow the light by themselves: it flickers here
    await session.post("/api/preferences", { matching: "itself" });
    await b.open(app.url, "Quay");
    await press("Plate");
    await d.findElement(By.xpath("//button[contains(., 'Build in the light')]")).click();
    await says(/were looked at/);
    await goTo(AT);
    await b.keys("2");
    await b.drag(loopRound([x0, y0, x1, y1], 8));
    await b.saved();
    await patchOn(AT - 3, AT + 3);
    await press("Cut it out");
    await until("the fork-lift", async () => (await drawn("Quay"))[0]?.kind === "cutout");
    await b.saved();
    // its shadow, by a loop of its own
    await b.keys("2");
    await (await d.findElement(By.xpath("//option[normalize-space()='add to mask']"))).click();
    await b.drag([[760, 470], [1000, 462], [1240, 470], [1240, 530], [1000, 545], [760, 520], [758, 474]]); // prettier-ignore
    await until("the loop", async () => (await drawn("Quay")).length === 2);
    await b.saved();
    await press("A shadow");
    await until("the shadow", async () => (await drawn("Quay"))[1]?.kind === "cutout");
    await b.saved();
    const { id } = await session.shot("Quay");
    // behind the rest of it water moves
    const paving: Box = [0, 445, 1280, 680];
    for (const n of [AT - 3, AT, AT + 3]) {
      const r = await againstTruth(app.url, "quay", id, n, paving, true);
      console.log(`quay, frame ${n}: ${r.before.toFixed(1)} dB before, ${r.after.toFixed(1)} dB after`);
      expect(r.after).toBeGreaterThan(34);
    }
  });
});
