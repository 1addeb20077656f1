import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { WebDriver } from "selenium-webdriver";
import type { PatchLayer } from "../src/core/document/layer";
import { maskOf } from "../src/core/document/recipe";
import { HIGH, WIDE, writeStage } from "../testkit/mended";
import { type App, until } from "./support/app";
import { By, EditorDriver, downloads, Key, openBrowser } from "./support/browser";
import { startReady } from "./support/ready";
import { Session } from "./support/session";

/** A patch over the boom that ends too early and has dead grain: found, mended by its key, and proven. */
let app: App;
let d: WebDriver;
let b: EditorDriver;
let session: Session;
let shot: string;
const dl = downloads();

beforeAll(async () => {
  app = await startReady();
  d = await openBrowser(dl);
  b = new EditorDriver(d);
  session = new Session(app);
  shot = (await session.shot("Ticket hall")).id;
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

/** Round the boom and its shadow on all their frames. */
const LOOP: [number, number][] = [[465, 325], [470, 130], [520, 80], [610, 50], [640, -12], [1080, -12], [1000, 12], [792, 106], [728, 136], [700, 190], [640, 240], [600, 325]]; // prettier-ignore
const layer = async () => (await session.document(shot)).recipe.intruders[0].layers[0] as PatchLayer;
const head = async () => (await b.byLabel("Proof")).getText();
/** Lets the selected patch begin and end, by keys at those frames. */
async function lay(first: number, last: number): Promise<void> {
  await b.field("Go to frame", String(first));
  await b.keys("i");
  await b.field("Go to frame", String(last));
  await b.keys("o");
  await b.saved();
}
/** The table's rows in words, what is worst first. */
const rows = async () => {
  const found = await d.findElements(By.css("table[aria-label='Findings'] tbody tr:first-child"));
  return Promise.all(found.map((r) => r.getText()));
};
const look = async (env: string) => {
  const to = process.env[env];
  if (to) writeFileSync(to, Buffer.from(await d.takeScreenshot(), "base64"));
};

describe("a patch that ends three frames too early", () => {
  it("is found in Proof by itself: where, from when to when, and what to do", async () => {
    await b.open(app.url, "Ticket hall");
    await b.field("Go to frame", "28");
    await b.keys("p");
    await b.saved();
    await b.field("Go to frame", "55");
    await b.keys("1");
    for (const [x, y] of LOOP) await b.click(x, y);
    await b.keys(Key.ENTER);
    await b.saved();
    await b.field("Feather", "14");
    await lay(30, 66);
    await (await b.byText("Proof")).click();
    await until("the findings", async () => (await rows()).length > 0);
    await look("UMBER_LOOK_PROOF_LIST");
    const all = await rows();
    expect(all.some((r) => /Leak/.test(r))).toBe(true);
    expect(await head()).toMatch(/Still wrong/);
    // the ledger and the row of the timeline say it as well
    expect(await (await d.findElement(By.css("aside[aria-label='Ledger']"))).getText()).toMatch(/leak/);
    expect((await d.findElements(By.css("[data-testid='finding']"))).length).toBe(all.length);
  });

  it("how much of it is left is a curve on the timeline: nothing where it is covered, all of it where the patch has ended", async () => {
    const note = async () => (await (await b.byLabel("Figure of the curve")).findElement(By.xpath("ancestor::div[2]"))).getText();
    await b.field("Go to frame", "50");
    expect(Number(/([\d.]+) %/.exec(await note())?.[1])).toBeLessThan(2);
    await (await b.byText("worst at")).click();
    expect(await b.frame()).toBeGreaterThan(66);
    expect(await note()).toMatch(/100\.0 %/);
    await look("UMBER_LOOK_FIGURES");
    const curve = await d.findElement(By.css("[data-testid='figure-curve']"));
    expect(await curve.getAttribute("aria-label")).toMatch(/What is left of .*, frame by frame/);
    await curve.click();
    expect(Math.abs((await b.frame()) - 47)).toBeLessThan(3);
  });

  it("`.` goes to it and frames it; its key mends it, and it is measured again", async () => {
    const at = (await rows()).findIndex((r) => /Leak/.test(r));
    for (let k = 0; k <= at; k++) await b.keys(".");
    await until("its worst frame", async () => (await b.frame()) > 66);
    await b.exact();
    await look("UMBER_LOOK_PROOF");
    const before = (await layer()).out;
    await b.chord(Key.SHIFT, "m");
    await b.saved();
    const after = (await layer()).out;
    expect(after).toBeGreaterThan(before);
    expect(after).toBeLessThan(before + 8);
    await until("what is left", async () => /Still wrong|Nothing found/.test(await head()) && !(await rows()).some((r) => /Leak/.test(r)));
  });

  it("a finding is accepted with its reason, counts no longer, and counts again when that is taken back", async () => {
    expect((await rows()).join()).toMatch(/Dead grain/);
    await b.keys(".");
    await (await b.byLabel("Why it may stay")).sendKeys("Goes to a small screen", Key.ENTER);
    await until("the verdict", async () => /Nothing found/.test(await head()));
    await b.saved();
    expect((await session.document(shot)).recipe.proof!.accepted[0].why).toBe("Goes to a small screen");
    await (await b.byText("Count it again")).click();
    await until("the finding", async () => (await rows()).length > 0);
    // for others: a page with a picture of the spot before and after, and a table
    await (await b.byLabel("Report on Ticket hall")).click();
    await (await d.findElement(By.xpath("//*[@role='menuitem'][contains(., 'A page with pictures')]"))).click();
    const saved = (name: string) => until(name, async () => readdirSync(dl).includes(name) && readFileSync(join(dl, name), "utf8"));
    const page = await saved("Ticket-hall-report.html");
    expect(page).toMatch(/Ticket hall[\s\S]*Still wrong[\s\S]*Dead grain/);
    const pictures = [...page.matchAll(/src="data:image\/jpeg;base64,([^"]+)"/g)].map((m) => Buffer.from(m[1], "base64"));
    expect(pictures).toHaveLength(2 * (await rows()).length);
    const { width, height } = await sharp(pictures[0]).metadata();
    expect(Math.min(width, height)).toBeGreaterThan(100);
    await (await b.byLabel("Report on Ticket hall")).click();
    await (await d.findElement(By.xpath("//*[@role='menuitem'][contains(., 'A table')]"))).click();
    expect(await saved("Ticket-hall-report.csv")).toMatch(/^shot,verdict,finding[^\r]*\r\nTicket hall,faults,dead-grain,/);
    await (await b.byText("Render")).click();
    expect(await (await d.findElement(By.css("[role='note']"))).getText()).toMatch(/Still wrong: dead grain/);
    await (await b.byText("Proof")).click();
  });

  it("grain is laid by its button; then nothing is found, and only then the row says clean", async () => {
    const ledger = () => d.findElement(By.css("aside[aria-label='Ledger']")).getText();
    expect(await ledger()).not.toMatch(/clean, proven/);
    await b.keys(".");
    await (await b.byText("Lay grain")).click();
    await until("the grain", async () => (await layer()).grain);
    await until("the verdict", async () => /Nothing found/.test(await head()));
    await look("UMBER_LOOK_PROOF_CLEAN");
    expect(await ledger()).toMatch(/clean, proven/);
  });
});

/** Where somebody walks by in frame n, left edge. */
const walkerAt = (n: number) => 8 + 9 * (n - 15);

/** A wall before which a bar hangs in frames 16–29 and somebody walks by, four times as large as it is made. */
function walkerFilm(): Buffer {
  const to = join(mkdtempSync(join(tmpdir(), "umber-walker-")), "walker.mp4");
  const large = `scale=${4 * WIDE}:${4 * HIGH}:flags=neighbor`;
  writeStage({ walker: walkerAt }, "-vf", large, "-c:v", "libx264", "-crf", "10", "-pix_fmt", "yuv420p", to);
  return readFileSync(to);
}

describe("somebody who passes a patch", () => {
  it("is found as bitten, held out by one key, and seen again where the patch lies", async () => {
    await session.upload("walker.mp4", walkerFilm());
    const { id } = await session.shot("walker");
    await b.open(app.url, "walker");
    await b.field("Go to frame", "8");
    await b.keys("p");
    await b.saved();
    await b.field("Go to frame", "24");
    await b.keys("1");
    for (const [x, y] of [[264, 2], [504, 2], [504, 420], [264, 420]] as const) await b.click(x, y); // prettier-ignore
    await b.keys(Key.ENTER);
    await b.saved();
    await lay(16, 29);
    // the walker's coat is lighter than the wall; below the bar's end, well within the mask
    const coat = async () => {
      await b.field("Go to frame", "24");
      await b.exact();
      return b.grey(4 * (walkerAt(24) + 9), 4 * 80);
    };
    const hidden = await coat();
    await (await b.byText("Proof")).click();
    await until("the bite", async () => (await rows()).some((r) => /Bite/.test(r)));
    const at = (await rows()).findIndex((r) => /Bite/.test(r));
    for (let k = 0; k <= at; k++) await b.keys(".");
    await b.byText("Hold it out");
    await look("UMBER_LOOK_HOLD_OUT");
    await b.chord(Key.SHIFT, "m");
    const shapes = async () => {
      const { recipe } = await session.document(id);
      return maskOf(recipe, recipe.intruders[0].layers[0] as PatchLayer).shapes;
    };
    await until("the shape", async () => (await shapes()).length === 2);
    // as it is, without the view that came with the finding
    await (await b.byText("Match")).click();
    expect((await shapes())[1]).toMatchObject({ kind: "cutout", op: "cut" });
    expect((await coat()) - hidden).toBeGreaterThan(30);
    // the bar is still gone beside the walker
    await b.field("Go to frame", "18");
    await b.exact();
    expect(await b.grey(4 * 96, 4 * 20)).toBeGreaterThan(60);
  });

  it("the production's report is stopped while it is measured, and nothing is saved; made again, it is whole", async () => {
    await d.get(app.url);
    const report = () => d.findElement(By.css("button[aria-label^='Report on']"));
    const reports = () => readdirSync(dl).filter((f) => f.endsWith("-report.json"));
    const ask = async () => {
      await (await until("the menu", report)).click();
      await (await d.findElement(By.xpath("//*[@role='menuitem'][contains(., 'Data')]"))).click();
    };
    await ask();
    await (await until("its Stop", () => d.findElement(By.css("button[aria-label^='Stop the report']")))).click();
    await until("that it has stopped", report);
    expect(reports()).toEqual([]);
    await ask();
    const file = await until("the report", async () => reports()[0]);
    const told = JSON.parse(readFileSync(join(dl, file), "utf8")) as { shots: { shot: string; verdict: string }[] };
    expect(told.shots.map((s) => s.shot)).toEqual(expect.arrayContaining(["Ticket hall", "walker"]));
  });
});
