import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { WebDriver } from "selenium-webdriver";
import type { Production } from "../src/wire/shot";
import { until, type App } from "./support/app";
import { EditorDriver, By, downloads, Key, openBrowser } from "./support/browser";
import { startReady } from "./support/ready";

/** The whole demo production, as a visitor finds it once it is read. */
let app: App;
let d: WebDriver;
let b: EditorDriver;
const state = async () => ((await (await fetch(`${app.url}/api/state`)).json()) as { productions: Production[] }).productions[0];

beforeAll(async () => {
  app = await startReady();
  d = await openBrowser(downloads());
  b = new EditorDriver(d);
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

describe("the demo production", () => {
  it("shows its shots as pictures, with size, rate, length and what must go", async () => {
    await d.get(app.url);
    await b.byLabel("Open Hull");
    const cards = await until("seven cards", async () => {
      const all = await d.findElements(By.css("main li"));
      return all.length === 7 && all;
    });
    const texts = await Promise.all(cards.map((c) => c.getText()));
    const card = (name: string) => texts.find((t) => t.startsWith(name))!;
    expect(card("Ticket hall")).toMatch(/1280×720 · 24 fps · 96 frames · sound[\s\S]*boom, and its shadow/);
    expect(card("Quay")).toMatch(/1280×720 · 24 fps · 144 frames · sound[\s\S]*Both fork-lift trucks/);
    expect(card("Letter")).toMatch(/1600×900 · 12 fps · 60 frames[\s\S]*Wire, putty/);
    expect(card("Ticket office")).toMatch(/1920×1080 · 25 fps · 120 frames · sound[\s\S]*stepladder/);
    expect(card("Lantern")).toMatch(/90 frames · sound[\s\S]*marker tape/);
    expect(card("Hull")).toMatch(/72 frames · sound[\s\S]*chalk mark/);
    for (const img of await d.findElements(By.css("main li img")))
      await until("the picture", async () => (await d.executeScript("return arguments[0].complete && arguments[0].naturalWidth", img)) as number);
  });

  it("lets the line be changed, and keeps it; Escape leaves it as it was", async () => {
    await (await b.byLabel("What must go from Hull: The chalk mark. Change it")).click();
    const field = await b.byLabel("What must go from Hull");
    await field.sendKeys(Key.chord(Key.CONTROL, "a"), "Chalk, all of it", Key.ENTER);
    const line = await b.byLabel("What must go from Hull: Chalk, all of it. Change it");
    await line.click();
    await (await b.byLabel("What must go from Hull")).sendKeys("XXX", Key.ESCAPE);
    await d.navigate().refresh();
    expect(await (await b.byLabel("What must go from Hull: Chalk, all of it. Change it")).getText()).toBe("Chalk, all of it");
    expect((await state()).takes.find((t) => t.name === "Hull.mp4")?.note).toBe("Chalk, all of it");
  });

  it.each(["Letter", "Ticket office", "Quay"])("%s opens at its exact frame, and steps", async (name) => {
    await b.open(app.url, name);
    await b.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    expect(await b.frame()).toBe(2);
    await b.exact();
    const p = await b.pixels();
    const shot = (await state()).takes.find((t) => t.name.startsWith(name))!;
    expect([p.width, p.height]).toEqual([shot.info!.width, shot.info!.height]);
    // a photograph, not an empty canvas
    let [s, q] = [0, 0];
    const n = p.width * p.height;
    for (let i = 0; i < n; i++) {
      s += p.data[4 * i];
      q += p.data[4 * i] ** 2;
    }
    expect(Math.sqrt(q / n - (s / n) ** 2)).toBeGreaterThan(15);
  });
});
