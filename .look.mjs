import { browser, snap, By, Key, until } from "./.shot.mjs";
const d = await browser();
try {
  await d.get("http://127.0.0.1:4870/");
  await new Promise((r) => setTimeout(r, 2500));
  await snap(d, "/tmp/s-home.png");
  const id = (await (await fetch("http://127.0.0.1:4870/api/state")).json()).productions[0].shots[0].id;
  await d.get("http://127.0.0.1:4870/shots/" + id);
  await new Promise((r) => setTimeout(r, 3500));
  await snap(d, "/tmp/s-bench.png");
  for (const e of await d.manage().logs().get("browser")) console.log(e.level.name, e.message.slice(0, 300));
} finally {
  await d.quit();
}
