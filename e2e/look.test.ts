import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { WebDriver } from "selenium-webdriver";
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
