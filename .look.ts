import { openBrowser, BenchDriver, Key, complaints, downloads } from "./e2e/support/browser";
const dl = downloads();
const d = await openBrowser(dl);
const b = new BenchDriver(d);
const snap = (n: string) => b.picture(`/tmp/s-${n}.png`);
const wait = (ms: number) => new Promise((r) => setTimeout(r, ms));
try {
  await b.open("http://127.0.0.1:4870", "Ticket hall");
  await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
  await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
  for (let i = 0; i < 6; i++) await b.keys(Key.ARROW_RIGHT);
  console.log("frame", await b.frame());
  await b.exact();
  await b.keys("p");
  await b.saved();
  await wait(600);
  await snap("plate");
  await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
  await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
  await b.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_RIGHT);
  await b.exact();
  console.log("frame", await b.frame());
  await snap("worst");
  await b.keys("1");
  for (const p of [
    [600, 150],
    [585, 90],
    [640, 60],
    [720, 20],
    [800, -14],
    [850, -14],
    [790, 50],
    [735, 130],
    [640, 165],
  ] as [number, number][])
    await b.click(...p);
  await snap("outline");
  await b.keys(Key.ENTER);
  await b.saved();
  await b.exact();
  await wait(400);
  await snap("patch");
  await b.hold("m");
  await wait(400);
  await snap("matte");
  await b.release("m");
  await b.keys(Key.ESCAPE);
  await b.keys("2");
  await b.drag([
    [520, 180],
    [720, 300],
  ]);
  await b.saved();
  await b.exact();
  await wait(300);
  await snap("oval");
  await b.byLabel("Plate Frame 26").click();
  await (await b.byText("Retouch")).click();
  await b.exact();
  await wait(200);
  await b.hover(960, 300);
  await b.keys("x");
  await b.hover(800, 180);
  await wait(200);
  await snap("retouch0");
  await b.drag([
    [800, 180],
    [820, 190],
    [790, 200],
    [780, 160],
    [810, 150],
  ]);
  await b.saved();
  await wait(500);
  await snap("retouch");
  await b.keys(Key.ESCAPE);
  await wait(300);
  await (await b.byText("Render")).click();
  await wait(300);
  await (await b.byText("Render")).getText();
  await d.findElement({ xpath: "//aside//button[normalize-space(.)='Render']" }).click();
  await wait(900);
  await snap("rendering");
  await wait(6000);
  await snap("render");
  await b.keys("?");
  await wait(300);
  await snap("keys");
} catch (e) {
  console.log(e);
  await snap("fail");
} finally {
  console.log(await complaints(d));
  await d.quit();
}
