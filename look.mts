import { startApp, until } from "./e2e/support/app";
import { BenchDriver, By, downloads, Key, openBrowser, complaints } from "./e2e/support/browser";
const app = await startApp("demo", undefined, { UMBER_DEMO: "letter" });
const d = await openBrowser(downloads()); const b = new BenchDriver(d);
try {
  await until("take", async () => ((await (await fetch(`${app.url}/api/state`)).json()) as any).productions[0]?.shots.length, 60000);
  await b.open(app.url, "Letter");
  await b.keys("b", "2");
  await (await b.find('select[aria-label="Takes its picture from"]')).sendKeys("a frame");
  await b.field("Size", "36");
  await b.stroke([[900,150],[960,150]]); await b.saved(); await new Promise(r=>setTimeout(r,800)); await b.picture("/tmp/l1.png");
  await b.keys("v"); await new Promise(r=>setTimeout(r,800)); await b.hover(700,400); await b.picture("/tmp/l2.png");
  await b.keys("v"); await b.keys(Key.ARROW_RIGHT); await b.keys("c"); await b.saved(); await b.exact(); await b.keys(Key.ESCAPE, Key.ESCAPE); await new Promise(r=>setTimeout(r,800)); await b.picture("/tmp/l3.png");
} catch (e) { console.error(String(e).slice(0,300)); await b.picture("/tmp/le.png"); } finally { console.log((await complaints(d)).join("\n").slice(0,1500)); await d.quit(); await app.stop(); }
