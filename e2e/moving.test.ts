import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { WebDriver } from "selenium-webdriver";
import type { PatchLayer } from "../src/core/document/layer";
import { tracksOf } from "../src/client/editor/keyframes";
import { type App, until } from "./support/app";
import { EditorDriver, By, downloads, openBrowser } from "./support/browser";
import { startReady } from "./support/ready";
import { Session } from "./support/session";
import { againstTruth, still } from "./support/truth";

/** Things that move, by pointer and keys: a moving mask over the same take slipped; the same frame beside. Against the truth of the demo takes. */
let app: App;
let d: WebDriver;
let b: EditorDriver;
let session: Session;

beforeAll(async () => {
  app = await startReady();
  d = await openBrowser(downloads());
  b = new EditorDriver(d);
  session = new Session(app);
  for (const n of ["Quay", "Hull"]) await session.shot(n);
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

const goTo = async (n: number) => {
  await b.field("Go to frame", String(n));
  await b.exact();
};
const layer = async (shot: string) => {
  const { recipe } = await session.document((await session.shot(shot)).id);
  return [recipe, recipe.intruders[0].layers[0] as PatchLayer] as const;
};

describe("one forklift on the quay", () => {
  it("goes through a moving mask over the take slipped, with six keyframes or fewer", async () => {
    await b.open(app.url, "Quay");
    await b.keys("4");
    await b.drag([
      [70, 190],
      [640, 572],
    ]);
    await b.saved();
    await (await b.byText("Slip")).click();
    await b.field("Slip", "26");
    await b.field("Feather", "16");
    // where it is in the middle and at the end of its way: each move makes a keyframe
    await goTo(26);
    await b.keys("6");
    await b.drag([
      [350, 400],
      [950, 402],
    ]);
    await b.saved();
    await goTo(51);
    await b.drag([
      [950, 402],
      [1100, 402],
      [1240, 404],
      [1272, 404],
    ]);
    await b.saved();
    await b.drag([
      [1272, 300],
      [1276, 302],
    ]);
    await b.field("Last frame", "53");
    // from where the take is clean only before it came, the slip goes the other way
    await goTo(25);
    await (await b.byLabel("Keyframe slip")).click();
    await goTo(26);
    await b.field("Slip", "-26");
    await b.saved();
    const [recipe, l] = await layer("Quay");
    const keys = new Set(tracksOf(recipe, l).flatMap((t) => t.keys.map((k) => k.f)));
    expect([...keys].sort((x, y) => x - y)).toEqual([0, 25, 26, 51]);
    const { id } = await session.shot("Quay");
    for (const n of [4, 14, 24, 30, 40]) {
      const r = await againstTruth(app.url, "quay", id, n);
      console.log(`quay, frame ${n}: ${r.before.toFixed(1)} dB before, ${r.after.toFixed(1)} dB after`);
      expect(r.after).toBeGreaterThan(r.before + 6);
    }
  });
});

describe("the chalk on the hull", () => {
  it("is covered by the same frame beside, placed on the picture with its source in sight, and what is written is what was seen", async () => {
    await b.open(app.url, "Hull");
    await b.keys("4");
    await b.drag([
      [505, 285],
      [845, 485],
    ]);
    await b.saved();
    await (await b.byText("Beside")).click();
    await b.saved();
    await b.exact();
    // its source is in sight: corner ticks, a thread, a knob
    await b.find('[data-testid="source-area"]');
    // dragged on the picture: the area that is read, to the right and clear of the rivets
    const middle = await b.find('[data-testid="source-middle"]');
    const before = await layer("Hull").then(([, l]) => l.place!);
    await b.dragElement(middle, 0, 8);
    await b.saved();
    await b.exact();
    const after = await layer("Hull").then(([, l]) => l.place!);
    expect(after.y as number).toBeLessThan((before.y as number) - 5);
    // scaled and turned about what is seen
    await b.dragElement(await b.find('[data-testid="source-turn"]'), 4, 0);
    await b.saved();
    expect((await layer("Hull"))[1].place!.angle).not.toBe(0);
    await b.chord("\uE009", "z");
    await b.field("Feather", "30");
    await b.saved();
    await b.exact();
    const { id } = await session.shot("Hull");
    const r = await againstTruth(app.url, "hull", id, 0);
    console.log(`hull: ${r.before.toFixed(1)} dB before, ${r.after.toFixed(1)} dB after`);
    expect(r.after).toBeGreaterThan(r.before + 6);
    // alive: another frame is mended by itself, not by the first one's picture
    const far = await againstTruth(app.url, "hull", id, 60);
    expect(far.after).toBeGreaterThan(far.before + 6);
    expect(await d.findElements(By.css("[role=alert]"))).toHaveLength(0);
  });

  it("a held frame follows the drift along a track of the camera, by one click and without a key", async () => {
    await goTo(0);
    await b.keys("p");
    await b.saved();
    await b.keys("4");
    await b.drag([
      [900, 150],
      [1180, 330],
    ]);
    await b.saved();
    const { id } = await session.shot("Hull");
    /** How far the held picture is off the footage at frame 71, where nothing has to go: squares of what means of 4 × 4 differ by. */
    const off = async () => {
      const [mended, taken] = [await still(app.url, id, "frame", 71), await still(app.url, id, "original", 71)];
      let s = 0;
      for (let y = 180; y < 300; y += 4)
        for (let x = 930; x < 1150; x += 4) {
          let differs = 0;
          for (let k = 0; k < 16; k++) {
            const at = ((y + (k >> 2)) * mended.info.width + x + (k & 3)) * mended.info.channels + 1;
            differs += (mended.data[at] - taken.data[at]) / 16;
          }
          s += differs ** 2 / (30 * 55);
        }
      return s;
    };
    const before = await off();
    await (await b.byText("Follow the camera")).click();
    const laid = async () => (await session.document(id)).recipe.intruders[1].layers[0] as PatchLayer;
    const tied = await until("the track", async () => (await laid()).tied);
    await b.saved();
    expect((await laid()).place).toBeUndefined();
    const track = (await session.document(id)).recipe.tracks![tied.to!];
    // what lies round it is plain: the whole picture's movement is what it follows
    expect([track.name, track.in, track.out, tied.from]).toEqual(["Camera", 0, 71, tied.to]);
    await goTo(71);
    const after = await off();
    console.log(`hull, held: ${before.toFixed(1)} before, ${after.toFixed(1)} after`);
    expect(after).toBeLessThan(0.5 * before);
    expect(await d.findElements(By.css("[role=alert]"))).toHaveLength(0);
  });
});
