/** Takes the pictures in docs/screenshots from the running demo, on a data folder of its own, at 1280×800. */
import { mkdirSync } from "node:fs";
import { startApp, until } from "../e2e/support/app";
import { BOOM } from "../e2e/support/outlines";
import { EditorDriver, By, downloads, Key, openBrowser } from "../e2e/support/browser";

const out = new URL("../docs/screenshots/", import.meta.url).pathname;
mkdirSync(out, { recursive: true });
const app = await startApp("demo", undefined, { UMBER_DEMO: "1", UMBER_MEDIA: new URL("../demo", import.meta.url).pathname });
const d = await openBrowser(downloads());
const b = new EditorDriver(d);
const pause = (ms: number) => new Promise((r) => setTimeout(r, ms));
try {
  await until(
    "the take",
    async () => ((await (await fetch(`${app.url}/api/state`)).json()) as { productions: { shots: unknown[] }[] }).productions[0]?.shots.length,
  );
  await b.open(app.url, "Ticket hall");
  await (await b.byText("Scout")).click();
  await until("the survey", async () => (await d.findElement(By.css("body")).getText()).includes("The camera stands still"));
  for (let i = 0; i < 5; i++) await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
  await b.exact();
  const ring = [[470, 130], [520, 80], [610, 50], [640, 4], [1000, 4], [792, 106], [728, 136], [700, 190], [640, 240], [600, 325], [465, 325], [462, 200]]; // prettier-ignore
  await b.drag(ring as [number, number][]);
  await until("the cleanest frames", async () => (await d.findElements(By.css("button[aria-label^='Hold frame']"))).length >= 4);
  await b.hover(1100, 650);
  await pause(700);
  await b.picture(`${out}scout.png`);
  await b.chord(Key.CONTROL, "z");
  await b.chord(Key.CONTROL, "z");
  await b.saved();
  await b.drag([[600, 4], [600, 70], [612, 134], [700, 128], [760, 70], [812, 30], [812, 4]]); // prettier-ignore
  await (await b.byText("All the shot")).click();
  await (await until("the tick", () => d.findElement(By.xpath("//label[contains(., 'Show it as it is framed')]")))).click();
  await b.exact();
  await b.hover(1100, 650);
  await pause(700);
  await b.picture(`${out}reframe.png`);
  await b.chord(Key.CONTROL, "z");
  await b.chord(Key.CONTROL, "z");
  await b.chord(Key.CONTROL, "z");
  await b.saved();
  await (await b.byText("Plate")).click();
  await b.keys(Key.HOME);
  for (let i = 0; i < 3; i++) await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
  await b.keys(Key.ARROW_LEFT, Key.ARROW_LEFT);
  await b.exact();
  await b.keys("p");
  await b.saved();
  for (let i = 0; i < 2; i++) await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
  for (let i = 0; i < 7; i++) await b.keys(Key.ARROW_RIGHT);
  await b.exact();
  await b.keys("1");
  for (const p of BOOM.slice(0, -1)) await b.click(...p);
  await b.hover(640, 190);
  await pause(5600); // the notices are gone
  await b.picture(`${out}outline.png`);
  await b.click(620, 182);
  await b.keys(Key.ENTER);
  await b.saved();
  await b.rename("Boom");
  await b.field("Feather", "30");
  await b.field("First frame", "29");
  await b.field("Last frame", "73");
  await b.field("Fade in", "1");
  await b.field("Fade out", "1");
  await b.keys("3");
  await b.drag([
    [470, 90],
    [620, 330],
  ]);
  await b.saved();
  await b.rename("Boom's shadow");
  await b.field("Feather", "40");
  await b.field("First frame", "29");
  await b.field("Last frame", "73");
  await d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Boom') and not(contains(., 'shadow'))]")).click();
  await b.keys("6");
  await b.saved();
  await b.exact();
  await b.hover(1100, 650);
  await pause(400);
  await b.picture(`${out}editor.png`);
  await b.keys("8", "h");
  await b.exact();
  await b.dragElement(await b.find('[data-testid="wipe-bar"]'), 60, 0);
  await b.chord(Key.SHIFT, "8");
  await (await b.byLabel("Seen through")).click();
  await b.hover(1100, 650);
  await pause(500);
  await b.picture(`${out}wipe.png`);
  await b.keys(Key.ESCAPE);
  await b.chord(Key.SHIFT, "8");
  await b.keys("8", "h");
  await (await b.byLabel("Retouch Frame 28")).click();
  await b.exact();
  await b.keys("3");
  await b.click(335, 195);
  await b.saved();
  await b.keys("5");
  await b.drag([
    [1030, 430],
    [1040, 520],
  ]);
  await until("the fill", async () => (await d.findElements(By.css("main [role=status]"))).length === 0);
  await (await b.byText("Four other tries")).click();
  await until(
    "the tries",
    async () => (await d.findElements(By.xpath("//button[starts-with(@aria-label,'Take try') and not(@disabled)]"))).length === 4,
    60_000,
  );
  await b.hover(1180, 600);
  await pause(900);
  await b.picture(`${out}retouching.png`);
  await b.keys(Key.ESCAPE, Key.ESCAPE);
  await b.byText("Patch").then((e) => e.click());
  await d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Boom') and not(contains(., 'shadow'))]")).click();
  await (await b.byText("Match")).click();
  // a new patch is matched by itself; where that was not to be told, by its button
  const [button] = await d.findElements(By.xpath("//button[normalize-space(.)='Match light and grain']"));
  if (button) await button.click();
  await until("the grain", async () => (await d.findElements(By.css("[aria-label^='Grain by brightness']"))).length > 0);
  await b.exact();
  await pause(9500); // the notices are gone
  await b.picture(`${out}match.png`);
  await (await b.byText("Render")).click();
  await d.findElement(By.xpath("//aside[@aria-label='Card']//button[normalize-space(.)='Render']")).click();
  await until("the render", async () => (await (await b.find("[data-testid=job]")).getAttribute("data-state")) === "done");
  await pause(400);
  await b.picture(`${out}render.png`);
  await b.keys("?");
  await pause(300);
  await b.picture(`${out}keys.png`);
  await b.open(app.url, "Quay");
  await (await b.byText("Plate")).click();
  await d.findElement(By.xpath("//button[contains(., 'Build in the light')]")).click();
  await until("the plate", async () => (await d.findElement(By.css("body")).getText()).includes("were looked at"));
  await (await b.byText("Where from")).click();
  await pause(2500);
  await b.picture(`${out}plate-origin.png`);
  // the forklift through a moving mask over the take slipped
  await b.keys("4");
  await b.drag([[70, 190], [640, 572]]); // prettier-ignore
  await b.saved();
  await b.rename("Forklift");
  await (await b.byText("Slip")).click();
  await b.field("Slip", "26");
  for (const [frame, by] of [
    [26, 600],
    [51, 330],
  ]) {
    // prettier-ignore
    await b.field("Go to frame", String(frame));
    await b.exact();
    await b.keys("6");
    await b.drag([[frame === 26 ? 350 : 950, 400], [(frame === 26 ? 350 : 950) + by, 402]]); // prettier-ignore
    await b.saved();
  }
  await b.field("Last frame", "53");
  await b.field("Go to frame", "25");
  await (await b.byLabel("Keyframe slip")).click();
  await b.field("Go to frame", "26");
  await b.field("Slip", "-26");
  await b.field("Go to frame", "14");
  await b.chord(Key.SHIFT, "k");
  await (await d.findElement(By.xpath("//select[@aria-label='Value of the curve']/option[contains(., 'Slip')]"))).click();
  await (await d.findElement(By.css('[data-testid="key"][data-frame="26"]'))).click();
  await b.exact();
  await pause(9500); // the notices are gone
  await b.hover(1100, 690);
  await pause(400);
  await b.picture(`${out}time.png`);
  await b.open(app.url, "Hull");
  await b.keys("4");
  await b.drag([[505, 285], [845, 485]]); // prettier-ignore
  await b.saved();
  await b.rename("Chalk number");
  await (await b.byText("Beside")).click();
  await b.field("Feather", "30");
  await b.exact();
  await b.dragElement(await b.find('[data-testid="source-middle"]'), 440, 6); // to the other side, clear of the rivets
  await b.saved();
  await b.exact();
  await pause(5600);
  await b.picture(`${out}beside.png`);
  await d.get(app.url);
  await b.byLabel("Open Ticket hall");
  await pause(1200);
  await b.picture(`${out}productions.png`);
  await (await b.byText("Use footage where it lies")).click();
  for (const step of ["demo", "takes", "hall.mp4"])
    await until(step, async () => {
      await (await d.findElement(By.xpath(`//*[@role='dialog']//ul//button[contains(., '${step}')]`))).click();
      return true;
    });
  await pause(300);
  await b.picture(`${out}media.png`);
} finally {
  await d.quit();
  await app.stop();
}
