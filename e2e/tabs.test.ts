import type { WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, expect, it } from "vitest";
import { type App, until } from "./support/app";
import { EditorDriver, By, downloads, Key, openBrowser } from "./support/browser";
import { startReady } from "./support/ready";
import { Session } from "./support/session";

/** Two windows on one shot: each follows the other, and no edit is written over another unasked. */
let app: App;
let s: Session;
let shot: string;
let d: WebDriver;
let b: EditorDriver;
let tabs: string[];

const to = (k: 0 | 1) => d.switchTo().window(tabs[k]);
const layer = async () => {
  const l = (await s.document(shot)).recipe.intruders[0].layers[0];
  if (l.kind !== "patch" || "use" in l.mask) throw new Error("no patch");
  return { feather: l.mask.feather, grow: l.mask.grow, in: l.in };
};
const shown = (label: string) => b.fieldValue(label);
/** Holds back what this window stores until it is let go, so that the other comes first however slow the machine is. */
const holdBack = () =>
  d.executeScript(`const real = window.real ?? fetch; window.real = real;
    const held = new Promise((r) => (window.letGo = r));
    window.fetch = (u, o) => String(u).endsWith("/edits") ? held.then(() => real(u, o)) : real(u, o);`);
const letGo = () => d.executeScript("window.letGo()");

beforeAll(async () => {
  app = await startReady();
  s = new Session(app);
  shot = (await s.shot("Ticket hall")).id;
  d = await openBrowser(downloads());
  b = new EditorDriver(d);
  await b.open(app.url, "Ticket hall");
  const [first] = await d.getAllWindowHandles();
  await d.switchTo().newWindow("tab");
  tabs = [first, await d.getWindowHandle()];
  await b.open(app.url, "Ticket hall");
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

it("what one window lays, the other shows, without being asked", async () => {
  await to(0);
  await b.keys("p", "3");
  await b.drag([
    [500, 100],
    [700, 260],
  ]);
  await b.saved();
  await b.rename("Boom");
  await to(1);
  const entry = await until("the patch in the other window", () =>
    d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Boom')]")),
  );
  await entry.click();
  await b.field("Feather", "21");
  await b.saved();
  await to(0);
  await until("the value to follow", async () => (await shown("Feather")) === "21");
});

it("edits of different things from both windows at once are both kept, in both windows", async () => {
  await to(0);
  await holdBack();
  await b.field("Grow", "6");
  await to(1);
  await b.field("Feather", "34");
  await b.saved();
  await to(0);
  await letGo();
  await b.saved();
  expect(await layer()).toMatchObject({ feather: 34, grow: 6 });
  for (const k of [0, 1] as const) {
    await to(k);
    await until("both values", async () => (await shown("Feather")) === "34" && (await shown("Grow")) === "6");
  }
});

it.each([
  ["The other window's", "41", "40", 41],
  ["Mine, on top", "43", "42", 42],
])("the same thing changed in both: asked which holds, “%s” does", async (answer, theirs, mine, holds) => {
  await to(0);
  await holdBack();
  await b.field("Feather", mine);
  await to(1);
  await b.field("Feather", theirs);
  await b.saved();
  await to(0);
  await letGo();
  await until("the question", async () => (await d.findElement(By.css("[role=alertdialog]")).getText()).includes("Changed elsewhere"));
  await d.findElement(By.xpath(`//*[@role='alertdialog']//button[normalize-space(.)=${JSON.stringify(answer)}]`)).click();
  await b.saved();
  await until("the value", async () => (await layer()).feather === holds);
  for (const k of [0, 1] as const) {
    await to(k);
    await until("the value in both", async () => (await shown("Feather")) === String(holds));
  }
});

it("undo in one window undoes the newest step, and the other follows", async () => {
  await to(1);
  await b.field("First frame", "12");
  await b.saved();
  await to(0);
  await until("the other's step", async () => (await shown("First frame")) === "12");
  await b.chord(Key.CONTROL, "z");
  await until("the step undone", async () => (await layer()).in === 0);
  await to(1);
  await until("the other to follow", async () => (await shown("First frame")) === "0");
});

it("eight windows at once are all answered, and hear what happens, also after the one that listens has closed", async () => {
  while (tabs.length < 8) {
    await d.switchTo().newWindow("tab");
    tabs.push(await d.getWindowHandle());
    await b.open(app.url, "Ticket hall");
  }
  const openPatch = () =>
    until("the patch", () => d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Boom')]"))).then((entry) => entry.click());
  const follows = async (value: string) => {
    await d.switchTo().window(tabs.at(-1)!);
    await b.field("First frame", value);
    await b.saved();
    await d.switchTo().window(tabs.at(-2)!);
    await until("the other to follow", async () => (await shown("First frame")) === value);
  };
  for (const t of tabs.slice(-2)) {
    await d.switchTo().window(t);
    await openPatch();
  }
  await follows("7");
  // the first one opened is the one that listens for all
  await d.switchTo().window(tabs[0]);
  await d.close();
  tabs.shift();
  await follows("9");
});
