import { createHash } from "node:crypto";
import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { AxeBuilder } from "@axe-core/webdriverjs";
import type { WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, expect, it } from "vitest";
import type { Production } from "../src/wire/shot";
import { ffmpeg, ffprobe } from "../testkit/ffmpeg";
import { type App, startApp, until } from "./support/app";
import { still } from "./support/truth";
import { EditorDriver, By, complaints, downloads, Key, openBrowser } from "./support/browser";

/** The user's own footage over the first page: what is refused, what becomes a take; who may ask; who can use it. */
let app: App;
let d: WebDriver;
let b: EditorDriver;
const dir = mkdtempSync(join(tmpdir(), "umber-takes-"));
const file = (n: string) => join(dir, n);

beforeAll(async () => {
  app = await startApp("start");
  d = await openBrowser(downloads());
  b = new EditorDriver(d);
  ffmpeg([
    "-y",
    "-f",
    "lavfi",
    "-i",
    "testsrc2=s=320x180:r=25:d=2,noise=alls=8:allf=t",
    "-f",
    "lavfi",
    "-i",
    "sine=d=2",
    "-c:v",
    "libx264",
    "-pix_fmt",
    "yuv420p",
    "-c:a",
    "aac",
    file("pier.mp4"),
  ]);
});
afterAll(async () => {
  await d?.quit();
  await app?.stop();
});

const productions = async () => ((await (await fetch(`${app.url}/api/state`)).json()) as { productions: Production[] }).productions;
const serious = async () => {
  // a notice that fades away while axe measures has no contrast of its own
  await until("no notice", async () => (await d.findElements(By.css("[data-sonner-toast]"))).length === 0);
  return (await new AxeBuilder(d).analyze()).violations
    .filter((v) => v.impact === "serious" || v.impact === "critical")
    .map((v) => `${v.id}: ${v.nodes.map((n) => n.html).join(" ")}`);
};

it("refuses what is no video with one sentence on the page, and keeps nothing of it", async () => {
  writeFileSync(file("empty.mp4"), "");
  writeFileSync(file("letter.mp4"), "Dear Vell,\nthe boat is late.\n");
  writeFileSync(file("list.m3u8"), "#EXTM3U\n#EXTINF:1,\n/etc/passwd\n#EXT-X-ENDLIST\n");
  writeFileSync(file("cut.mp4"), readFileSync(file("pier.mp4")).subarray(0, 60_000));
  ffmpeg(["-y", "-f", "lavfi", "-i", "sine=d=1", file("sound.m4a")]);
  await d.get(app.url);
  await b.home();
  const input = await d.findElement(By.css("input[type=file]"));
  await input.sendKeys(["empty.mp4", "letter.mp4", "list.m3u8", "cut.mp4", "sound.m4a"].map(file).join("\n"));
  const alerts = await until("five sentences", async () => {
    const found = await d.findElements(By.css("[role=alert]"));
    return found.length >= 5 && Promise.all(found.map((f) => f.getText()));
  });
  expect(alerts.join("\n")).toMatch(/“empty.mp4” is empty \(0 bytes\)/);
  expect(alerts.join("\n")).toMatch(/“letter.mp4” is not a video file/);
  expect(alerts.join("\n")).toMatch(/“list.m3u8” is not a video file/);
  expect(alerts.join("\n")).toMatch(/“cut.mp4” is cut off or damaged/);
  expect(alerts.join("\n")).toMatch(/“sound.m4a” holds only sound/);
  expect((await productions()).flatMap((p) => p.takes)).toEqual([]);
  expect(readdirSync(join(app.data, "incoming"))).toEqual([]);
  expect(existsSync(join(app.data, "takes")) ? readdirSync(join(app.data, "takes")) : []).toEqual([]);
});

it("an ordinary file dropped on the page becomes a take with the same abilities", async () => {
  await d.navigate().refresh();
  const bytes = readFileSync(file("pier.mp4")).toString("base64");
  await b.home();
  await d.executeScript(
    `const bytes = Uint8Array.from(atob(arguments[0]), (c) => c.charCodeAt(0));
     const t = new DataTransfer();
     t.items.add(new File([bytes], "pier.mp4", { type: "video/mp4" }));
     for (const type of ["dragover", "drop"]) document.querySelector("main").dispatchEvent(new DragEvent(type, { dataTransfer: t, bubbles: true, cancelable: true }));`,
    bytes,
  );
  // leaving the page would break the upload off
  await until("the take", async () => (await productions()).flatMap((p) => p.takes).length > 0);
  await b.open(app.url, "pier");
  const [p] = await productions();
  expect(p.takes[0].info).toMatchObject({ frames: 50, width: 320, height: 180, rate: [25, 1] });
  const kept = join(app.data, "takes", p.takes[0].id, "original.mp4");
  const hash = (f: string) => createHash("sha256").update(readFileSync(f)).digest("hex");
  expect(hash(kept)).toBe(hash(file("pier.mp4")));
  await b.keys("p", "3");
  for (let i = 0; i < 2; i++) await b.chord(Key.SHIFT, Key.ARROW_RIGHT);
  await b.exact();
  const before = await b.pixels();
  await b.drag([
    [100, 50],
    [220, 130],
  ]);
  await b.saved();
  const at = (q: { width: number; data: Uint8Array }, x: number, y: number) => [...q.data.subarray(4 * (y * q.width + x), 4 * (y * q.width + x) + 3)];
  await until("the patch", async () => String(at(await b.pixels(), 160, 90)) !== String(at(before, 160, 90)));
  await b.exact(); // a quick picture may be a code off
  expect(at(await b.pixels(), 20, 150)).toEqual(at(before, 20, 150));
  expect(hash(kept)).toBe(hash(file("pier.mp4"))); // never written to
});

it("a large file arrives whole", async () => {
  const big = Buffer.alloc(31_000_000, 7);
  const r = await fetch(`${app.url}/api/takes?name=noise.mp4`, { method: "POST", headers: { origin: app.url }, body: big });
  expect([r.status, ((await r.json()) as { error: string }).error]).toEqual([422, expect.stringContaining("“noise.mp4” is not a video file")]);
});

it("answers only its own page: foreign hosts, origins and paths are refused", async () => {
  const port = new URL(app.url).port;
  const { request } = await import("node:http");
  const status = (path: string, headers: Record<string, string>) =>
    new Promise<number>((resolve) => request({ host: "127.0.0.1", port, path, headers }, (res) => resolve(res.resume().statusCode!)).end());
  expect(await status("/api/state", { host: `evil.example:${port}` })).toBe(403);
  expect(await status("/", { host: `evil.example:${port}` })).toBe(403);
  expect(await status("/api/state", { origin: "http://evil.example" })).toBe(403);
  expect(await status("/api/state", { "sec-fetch-site": "cross-site" })).toBe(403);
  expect(await status("/api/takes/..%2f..%2fumber.db/frames/0", {})).toBe(404);
  expect(await status(`/api/takes/${"0".repeat(8)}-0000-0000-0000-000000000000/frames/..%2f1`, {})).toBe(404);
  expect(await status("/api/state", {})).toBe(200);
});

it("axe finds nothing serious on the first page, the editor, retouching, render and keys; the console is quiet", async () => {
  expect(await serious()).toEqual([]);
  await b.keys("?");
  await b.byText("Done");
  expect(await serious()).toEqual([]);
  await b.keys(Key.ESCAPE);
  await b.chord(Key.SHIFT, "h");
  await b.byText("Close");
  expect(await serious()).toEqual([]);
  await b.keys(Key.ESCAPE, "8");
  await d.findElement(By.xpath("//aside[@aria-label='Ledger']//button[contains(., 'Intruder')]")).click();
  await b.chord(Key.SHIFT, "k");
  await b.find('[data-testid="curve"]');
  expect(await serious()).toEqual([]);
  await b.keys("8");
  await (await b.byText("Render")).click();
  expect(await serious()).toEqual([]);
  await (await b.byLabel("Retouch Frame 0")).click();
  await b.exact();
  expect(await serious()).toEqual([]);
  await d.get(app.url);
  await b.byLabel("Open pier");
  expect(await serious()).toEqual([]);
  const noise = (await complaints(d)).filter((m) => !/status of 422|willReadFrequently/.test(m)); // the refused files, and this test's own reading of pixels
  expect(noise).toEqual([]);
});

it("nothing that comes or goes moves the picture; its figures are true after a resize, and panes stay as they were left", async () => {
  await b.open(app.url, "pier");
  const place = () =>
    d.executeScript<number[]>(
      "const r = document.querySelector('[data-testid=picture]').getBoundingClientRect(); return [r.left, r.top, r.width, r.height].map(Math.round);",
    );
  const first = await place();
  for (const stage of ["Scout", "Plate", "Patch", "Render", "Patch"]) {
    await (await b.byText(stage)).click();
    expect(await place(), stage).toEqual(first);
  }
  // rows come: five patches more than the timeline can show
  for (let i = 0; i < 5; i++) {
    await b.keys("3");
    await b.drag([
      [40 + 50 * i, 20],
      [60 + 50 * i, 40],
    ]);
    await b.saved();
  }
  expect(await place()).toEqual(first);
  await b.keys("b");
  await b.find('section[aria-label="Touches"]');
  expect(await place()).toEqual(first);
  await b.keys(Key.ESCAPE);
  // a pane is dragged by its edge: the picture has more room, the figure says so, and it is so after a reload
  const zoom = async () => Number(/\d+/.exec(await (await b.find("[data-testid=zoom]")).getText())![0]);
  const true_ = async () => Math.round((100 * (await place())[2]) / 320);
  await b.dragElement(await b.byLabel("Width of the card"), 36, 0);
  await until("more room", async () => (await place())[2] > first[2]);
  expect(Math.abs((await zoom()) - (await true_()))).toBeLessThanOrEqual(1);
  const wider = await place();
  await d.navigate().refresh();
  await b.exact();
  await until("the pane as it was left", async () => String(await place()) === String(wider));
  const rect = await d.manage().window().getRect();
  await d
    .manage()
    .window()
    .setRect({ ...rect, width: rect.width + 240 });
  await until("another size", async () => (await place())[2] !== wider[2]);
  expect(Math.abs((await zoom()) - (await true_()))).toBeLessThanOrEqual(1);
  // one key folds all panes, and puts them back as usual
  await d.manage().window().setRect(rect);
  await b.chord(Key.SHIFT, "z");
  await until("the usual panes", async () => String(await place()) === String(first));
  await b.chord(Key.SHIFT, "z");
  await until("the picture alone with its timeline's ruler", async () => (await place())[2] > 1.4 * first[2]);
  await b.chord(Key.SHIFT, "z");
  // read at 200 %: 640 by 400 pixels for all of it; picture and card are both there to be used
  const [w, h] = await d.executeScript<[number, number]>("return [outerWidth - innerWidth, outerHeight - innerHeight]");
  await d
    .manage()
    .window()
    .setRect({ ...rect, width: 640 + w, height: 400 + h });
  await until("the picture in its place", async () => {
    const [x, y, pw, ph] = await place();
    return x >= 0 && y > 60 && pw > 250 && x + pw < 400 && y + ph < 380;
  });
  await (await b.byText("Plate")).click();
  await (await d.findElement(By.xpath("//aside[@aria-label='Card']//button[starts-with(normalize-space(.), 'Hold frame')]"))).click();
  await b.saved();
  await d.manage().window().setRect(rect);
});

it("what is written again is another version, and before and after stand beside each other in one film", async () => {
  await b.open(app.url, "pier");
  await (await b.byText("Render")).click();
  const done = async () => {
    const rows = await d.findElements(By.css("[data-testid=job][data-state=done]"));
    return Promise.all(rows.map((r) => r.findElement(By.css("a[download]")).getAttribute("aria-label")));
  };
  const go = await d.findElement(By.xpath("//aside[@aria-label='Card']//button[normalize-space(.)='Render']"));
  for (const count of [1, 2]) {
    await go.click();
    await until(`${count} files`, async () => (await done()).length === count);
  }
  await (await d.findElement(By.css("option[value='review']"))).click();
  await go.click();
  await until("the third file", async () => (await done()).length === 3);
  expect((await done()).toSorted()).toEqual(["Download pier-mended-v2.mp4", "Download pier-mended.mp4", "Download pier-review.mp4"]);
  const href = await (await b.byLabel("Download pier-review.mp4")).getAttribute("href");
  writeFileSync(file("review.mp4"), Buffer.from(await (await fetch(href!)).arrayBuffer()));
  const [W, H] = [320, 180];
  const both = ffmpeg(["-i", file("review.mp4"), "-vf", "select=eq(n\\,30)", "-frames:v", "1", "-f", "rawvideo", "-pix_fmt", "gray", "pipe:1"]);
  const own = ffmpeg(["-i", file("pier.mp4"), "-vf", "select=eq(n\\,30)", "-frames:v", "1", "-f", "rawvideo", "-pix_fmt", "gray", "pipe:1"]);
  expect(both.length).toBe(2 * W * H);
  const { id } = (await productions()).flatMap((q) => q.shots).find((q) => q.name === "pier")!;
  const luma = async (what: "frame" | "original") => {
    const { data, info } = await still(app.url, id, what, 30);
    return (i: number) => 0.2126 * data[i * info.channels] + 0.7152 * data[i * info.channels + 1] + 0.0722 * data[i * info.channels + 2];
  };
  const [mended, original] = [await luma("frame"), await luma("original")];
  // where mending changed much the halves differ, elsewhere they are the same; the left one is the take
  const [changed, same] = [[0, 0], [0, 0]]; // prettier-ignore
  let taken = 0;
  for (let i = 0; i < W * H; i++) {
    const left = both[2 * W * Math.floor(i / W) + (i % W)];
    const to = Math.abs(mended(i) - original(i)) > 20 ? changed : same;
    to[0] += Math.abs(both[2 * W * Math.floor(i / W) + W + (i % W)] - left);
    to[1]++;
    if (i >= W * H * 0.75) taken += Math.abs(left - own[i]) / (W * H * 0.25);
  }
  expect(changed[1]).toBeGreaterThan(50);
  expect(changed[0] / changed[1]).toBeGreaterThan(8);
  expect(same[0] / same[1]).toBeLessThan(4);
  expect(taken).toBeLessThan(4);
});

it("a film that lies on its side is shown upright, by its flag or by hand; its samples stay, and what is rendered is flagged", async () => {
  // halves, red and blue, beside each other as they were recorded; which belongs on top by the flag, ffmpeg's own decoding says
  const halves = "color=red:s=160x180:r=25:d=0.4[a];color=blue:s=160x180:r=25:d=0.4[b];[a][b]hstack";
  ffmpeg(["-y", "-f", "lavfi", "-i", halves, "-c:v", "libx264", "-pix_fmt", "yuv420p", file("flat.mp4")]);
  ffmpeg(["-y", "-i", file("flat.mp4"), "-c", "copy", "-metadata:s:v", "rotate=90", file("phone.mp4")]);
  await d.get(app.url);
  await b.home();
  await d.findElement(By.css("input[type=file]")).sendKeys(file("phone.mp4"));
  await until("the film to be read", async () =>
    (await productions()).flatMap((p) => p.takes).some((t) => t.name === "phone.mp4" && t.state === "ready"),
  );
  await b.open(app.url, "phone");
  const box = () =>
    d.executeScript<number[]>(
      "const r = document.querySelector('[data-testid=picture]').getBoundingClientRect(); return [r.left, r.top, r.width, r.height];",
    );
  const [x, y, w, h] = await box();
  expect(h / w).toBeCloseTo(320 / 180, 1);
  const { default: sharp } = await import("sharp");
  const seen = async (px: number, py: number) => {
    const { data, info } = await sharp(Buffer.from(await d.takeScreenshot(), "base64"))
      .raw()
      .toBuffer({ resolveWithObject: true });
    const k = (Math.round(py) * info.width + Math.round(px)) * info.channels;
    return data[k] > data[k + 2] ? "red" : "blue";
  };
  const judge = ffmpeg(["-i", file("phone.mp4"), "-frames:v", "1", "-f", "rawvideo", "-pix_fmt", "rgb24", "pipe:1"]);
  const top = judge[3 * (20 * 180 + 90)] > 128 ? "red" : "blue";
  expect([await seen(x + w / 2, y + h * 0.1), await seen(x + w / 2, y + h * 0.9)]).toEqual(top === "red" ? ["red", "blue"] : ["blue", "red"]);
  // drawn at the right of the upper half as it is seen; where that is in the picture as it was recorded hangs on the way it is turned
  await b.keys("4");
  const from = { x: Math.round(x + w * 0.6), y: Math.round(y + h * 0.1) };
  const a = d.actions().move({ ...from }).press(); // prettier-ignore
  await a
    .move({ x: Math.round(x + w * 0.9), y: Math.round(y + h * 0.3), duration: 60 })
    .release()
    .perform();
  await b.saved();
  const { id, recipe } = await (async () => {
    const shot = (await productions()).flatMap((p) => p.shots).find((s) => s.name === "phone")!;
    const { recipe: r } = (await (await fetch(`${app.url}/api/shots/${shot.id}`)).json()) as { recipe: unknown };
    return { id: shot.id, recipe: JSON.stringify(r) };
  })();
  const [, cx, cy] = /"center":(?:\{"keys":\[\{"f":0,"v":)?\[([\d.]+),([\d.]+)\]/.exec(recipe)!;
  const [ex, ey] = top === "red" ? [320 * 0.2, 180 * 0.25] : [320 * 0.8, 180 * 0.75];
  expect(Math.abs(Number(cx) - ex)).toBeLessThan(3);
  expect(Math.abs(Number(cy) - ey)).toBeLessThan(3);
  // by hand: as it was recorded
  await (await b.byText("Scout")).click();
  await (await b.byLabel("How the take is turned")).click();
  await d.findElement(By.css("option[value='0']")).click();
  await until("the picture as it was recorded", async () => {
    const [, , rw, rh] = await box();
    return rw > rh;
  });
  await d.findElement(By.css("option[value='flag']")).click();
  await until("the picture upright again", async () => {
    const [, , rw, rh] = await box();
    return rh > rw;
  });
  const body = { codec: "h264", preset: "ultrafast", crf: 20, what: "result", convert: false };
  const job = (await (
    await fetch(`${app.url}/api/shots/${id}/renders`, {
      method: "POST",
      headers: { "content-type": "application/json", origin: app.url },
      body: JSON.stringify(body),
    })
  ).json()) as { id: string };
  const film = await until("the render", async () => {
    const r = await fetch(`${app.url}/api/jobs/${job.id}/file`);
    return r.ok && Buffer.from(await r.arrayBuffer());
  });
  writeFileSync(file("mended.mp4"), film);
  const stream = (f: string) =>
    (ffprobe(f, "-select_streams", "v", "-show_streams").streams as { width: number; side_data_list: { rotation: number }[] }[])[0];
  expect(stream(file("mended.mp4")).width).toBe(320);
  expect(stream(file("mended.mp4")).side_data_list[0].rotation).toBe(stream(file("phone.mp4")).side_data_list[0].rotation);
});
