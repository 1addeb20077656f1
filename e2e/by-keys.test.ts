import { spawnSync } from "node:child_process";
import { existsSync, readdirSync } from "node:fs";
import { join } from "node:path";
import type { WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, expect, it } from "vitest";
import { Truth } from "../benchmarks/truth/truth";
import { frames } from "../demo/make/decode";
import { type App, ROOT, until } from "./support/app";
import { startReady } from "./support/ready";
import { psnr } from "./support/measure";
import { BOOM } from "./support/outlines";
import { EditorDriver, By, downloads, Key, openBrowser } from "./support/browser";

/** The first walk of the README without a pointer: a plate, an outline, its edge and its frames, an oval, and the file that comes of it. */
let app: App;
let d: WebDriver;
let b: EditorDriver;
const dl = downloads();

beforeAll(async () => {
  app = await startReady();
  d = await openBrowser(dl);
  b = new EditorDriver(d);
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

const focused = () =>
  d.executeScript<string>(
    "const e = document.activeElement; return e.getAttribute('aria-label') || (e.labels && e.labels[0] ? e.labels[0].textContent.trim() : '') || e.textContent.trim();",
  );
/** Goes on with Tab until something of that name has the focus. */
async function tabTo(name: string | RegExp): Promise<void> {
  for (let i = 0; i < 120; i++) {
    const now = await focused();
    if (typeof name === "string" ? now === name : name.test(now)) return;
    await b.keys(Key.TAB);
  }
  throw new Error(`${name} cannot be reached with Tab`);
}
async function type(field: string, value: string): Promise<void> {
  await tabTo(field);
  await b.chord(Key.CONTROL, "a");
  await b.keys(...value, Key.ENTER);
}
const cross = async () => {
  const e = await b.find("[data-testid=cross]");
  return [Number(await e.getAttribute("data-x")), Number(await e.getAttribute("data-y"))] as const;
};
/** Moves the cross to a point of the take by arrows: by tens with Shift, then by ones. */
async function crossTo(x: number, y: number): Promise<void> {
  const [fx, fy] = await cross();
  const a = d.actions();
  const go = (by: number, less: string, more: string) => {
    const key = by < 0 ? less : more;
    a.keyDown(Key.SHIFT);
    for (let i = 0; i < Math.floor(Math.abs(by) / 10); i++) a.keyDown(key).keyUp(key);
    a.keyUp(Key.SHIFT);
    for (let i = 0; i < Math.abs(by) % 10; i++) a.keyDown(key).keyUp(key);
  };
  go(x - fx, Key.ARROW_LEFT, Key.ARROW_RIGHT);
  go(y - fy, Key.ARROW_UP, Key.ARROW_DOWN);
  await a.perform();
  expect(await cross()).toEqual([x, y]);
}

it("a boom is taken out and rendered by keys alone", async () => {
  await d.get(app.url);
  await until("the shot", async () => (await d.findElements(By.css("[aria-label='Open Ticket hall']"))).length);
  await tabTo("Open Ticket hall");
  await b.keys(Key.ENTER);
  await b.exact();
  for (let i = 0; i < 3; i++) await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
  await b.keys(Key.ARROW_LEFT, Key.ARROW_LEFT);
  expect(await b.frame()).toBe(28);
  await b.exact();
  await b.keys("p");
  await b.saved();
  for (let i = 0; i < 2; i++) await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
  for (let i = 0; i < 7; i++) await b.keys(Key.ARROW_RIGHT);
  expect(await b.frame()).toBe(55);
  await b.exact();

  // the outline, corner by corner; Enter closes it
  await b.keys("1");
  await b.chord(Key.SHIFT, "x");
  for (const [x, y] of BOOM) {
    // prettier-ignore
    await crossTo(x, y);
    await b.keys(Key.SPACE);
  }
  expect(await b.frame()).toBe(55); // arrows move the cross, not the frame
  await b.keys(Key.ENTER);
  await b.saved();
  await b.keys(Key.ESCAPE);
  await type("Feather", "16");
  await type("First frame", "29");
  await type("Last frame", "73");

  // an oval: pressed in one corner, let go in the other; then its size and place by number
  await b.keys(Key.ESCAPE);
  await b.chord(Key.SHIFT, "x");
  await b.keys("3");
  await crossTo(470, 90);
  await b.keys(Key.SPACE);
  await crossTo(600, 300);
  await b.keys(Key.SPACE);
  await b.saved();
  await b.keys(Key.ESCAPE);
  await type("Middle, across", "545");
  await type("Width", "170");
  await b.saved();
  const { id } = await (async () => {
    const state = (await (await fetch(`${app.url}/api/state`)).json()) as { productions: { shots: { id: string; name: string }[] }[] };
    return state.productions.flatMap((p) => p.shots).find((s) => s.name === "Ticket hall")!;
  })();
  const { recipe } = (await (await fetch(`${app.url}/api/shots/${id}`)).json()) as {
    recipe: { intruders: { layers: { mask: { shapes: { kind: string }[] } }[] }[] };
  };
  expect(recipe.intruders.map((i) => i.layers[0].mask.shapes[0].kind)).toEqual(["path", "ellipse"]);
  expect(JSON.stringify(recipe.intruders[1].layers[0].mask.shapes[0])).toMatch(/545.*85/);

  await tabTo("Render");
  await b.keys(Key.ENTER);
  await tabTo("Render");
  await until("the button that renders", async () => {
    const now = await d.executeScript<boolean>("return document.activeElement.closest('aside') !== null");
    if (now) return true;
    await b.keys(Key.TAB);
    await tabTo("Render");
    return false;
  });
  await b.keys(Key.ENTER);
  await until("the render", async () => (await d.findElements(By.css("[data-testid=job][data-state=done]"))).length);
  await tabTo(/^Download /);
  await b.keys(Key.ENTER);
  const file = await until("the file", async () => readdirSync(dl).find((f) => /^Ticket-hall-mended\.mp4$/.test(f) && existsSync(join(dl, f))));
  const film = join(dl, file);
  await until("all of the file", async () => spawnSync("ffprobe", ["-v", "error", film]).status === 0);
  const [W, H] = [1280, 720];
  const [mended] = [...frames(film, [55], "yuv420p", W * H * 1.5)];
  const [matte] = [...frames(join(ROOT, "demo/truth/hall-matte-boom.mkv"), [55], "gray", W * H)];
  const truth = new Truth("hall");
  const [clean] = [...truth.clean([55], truth.known)];
  expect(psnr(mended, clean.y, (i) => matte[i] > 127)).toBeGreaterThan(38);
});
