import { readFileSync } from "node:fs";
import type { WebDriver } from "selenium-webdriver";
import type { App } from "../../e2e/support/app";
import { EditorDriver, downloads, Key, openBrowser } from "../../e2e/support/browser";
import { startReady } from "../../e2e/support/ready";
import { Session } from "../../e2e/support/session";
import type { Touch } from "../../src/core/document/touch";
import { CANVAS_LOOP } from "../machine";
import { p95, type Row } from "../measure";
import { TAKE } from "../take";

/** What is felt at the screen, measured in headless Chromium (software drawing) with the pointer and the keys. */
interface Desk {
  d: WebDriver;
  b: EditorDriver;
  s: Session;
}

async function atDesk(run: (desk: Desk, app: App) => Promise<Row[]>): Promise<Row[]> {
  const app = await startReady();
  const d = await openBrowser(downloads());
  try {
    await d.get(app.url);
    const canvas = await d.executeAsyncScript<number>(CANVAS_LOOP);
    const rows = await run({ d, b: new EditorDriver(d), s: new Session(app) }, app);
    return rows.map((r) => ({ ...r, machine: `canvas ${canvas.toFixed(2)} ms` }));
  } finally {
    await d.quit();
    await app.stop();
  }
}

/** Notes when keys and pointer moves came and when the picture was painted. */
const WATCH = `window.noted = { keys: [], moves: [], paints: [] };
  const real = CanvasRenderingContext2D.prototype.putImageData;
  CanvasRenderingContext2D.prototype.putImageData = function (...a) {
    real.apply(this, a);
    if (this.canvas.dataset.testid === "picture") requestAnimationFrame(() => noted.paints.push({ t: performance.now(), frame: Number(this.canvas.dataset.frame), quality: this.canvas.dataset.quality }));
  };
  addEventListener("keydown", () => noted.keys.push(performance.now()), true);
  addEventListener("pointermove", (e) => noted.moves.push(e.timeStamp), true);`;
interface Noted {
  keys: number[];
  moves: number[];
  paints: { t: number; frame: number; quality: string }[];
}
const noted = (d: WebDriver) => d.executeScript<Noted>("const n = window.noted; window.noted = { keys: [], moves: [], paints: [] }; return n;");
/** From each event to the next painting, in ms; events that another one overtakes count by what is painted after them. */
const waits = (events: number[], paints: { t: number }[]) =>
  events.flatMap((e) => paints.find((p) => p.t >= e)?.t ?? []).map((t, i) => t - events[i]);
const pause = (ms: number) => new Promise((r) => setTimeout(r, ms));

/** An oval that moves and grows over the shot, so that its matte is another one in every frame. */
const ellipse = (x: number, y: number, r: number) => ({
  shapes: [
    {
      kind: "ellipse",
      op: "add",
      center: { keys: [{ f: 0, v: [x - 60, y] }, { f: 48, v: [x, y + 10] }, { f: 95, v: [x + 60, y] }] }, // prettier-ignore
      radii: { keys: [{ f: 0, v: [r, r * 0.7] }, { f: 95, v: [r * 1.2, r * 0.8] }] }, // prettier-ignore
    },
  ],
  feather: 24,
});
const layer = (id: string, mask: object) => ({ id, kind: "patch", in: 0, out: 95, source: { plate: "p" }, mask });

/** Lays patches or touches as one edit, as the page would. */
async function lay(s: Session, shot: string, changes: { path: (string | number)[]; value: unknown }[]): Promise<void> {
  const { rev } = await s.document(shot);
  const r = await s.post(`/api/shots/${shot}/edits`, {
    editId: `bench-${Date.now()}`,
    base: rev,
    name: "Measure",
    patches: changes.map((c) => ({ op: "add", ...c })),
    inverse: changes.map((c) => ({ op: "remove", path: c.path })),
  });
  if (r.status !== 200) throw new Error(r.value.error);
}

/** Three keyed patches over the hall. @param matched whether they follow the light along their rims and carry the take's grain */
async function layThree(s: Session, matched = false): Promise<void> {
  const shot = (await s.shot("Ticket hall")).id;
  let grain = "";
  if (matched) {
    const r = await s.post(`/api/shots/${shot}/grain`, { take: "a", in: 0, out: 95, task: `bench-${Date.now()}` });
    if (r.status !== 200) throw new Error(r.value.error);
    grain = String(r.value.data);
  }
  const of = matched ? { light: { by: "rim" }, grain: { profile: "g" } } : {};
  const masks = [ellipse(700, 150, 120), ellipse(400, 300, 100), ellipse(900, 480, 140)];
  const layers = masks.map((m, i) => ({ ...layer("lmn"[i], m), ...of }));
  await lay(s, shot, [
    ...(matched ? [{ path: ["profiles"], value: { g: { name: "The take's own", data: grain } } }] : []),
    { path: ["plates", "p"], value: { from: { take: "a", frame: 20 }, touches: [] } },
    { path: ["intruders", 0], value: { id: "i", name: "x", layers } },
  ]);
}

const play = (matched: boolean): Promise<Row[]> =>
  atDesk(async ({ d, b, s }, app) => {
    await layThree(s, matched);
    await b.open(app.url, "Ticket hall");
    await pause(3000); // the exact frames are filled
    await b.keys(" ");
    await pause(4500); // once through, so that the quick frames are there
    await d.executeScript(WATCH);
    await pause(5000);
    const { paints } = await noted(d);
    const said = Number(/(\d+) dropped/.exec(await (await b.find("[data-testid=dropped]")).getText())?.[1] ?? 0);
    await b.keys(" ");
    const fps = (paints.length - 1) / ((paints.at(-1)!.t - paints[0].t) / 1000);
    const share = said / (9.5 * 24);
    return [
      {
        what: `Playing 1280×720 with its sound, three keyed patches${matched ? " that match light and grain" : ""}, 24 fps take`,
        ours: `${fps.toFixed(1)} fps, ${(100 * share).toFixed(1)} % dropped`,
        reach: "≥ 24 fps, < 2 % dropped",
        judge: "–",
        ok: fps >= 23.9 && share < 0.02,
      },
    ];
  });

export const playing = async (): Promise<Row[]> => [...(await play(false)), ...(await play(true))];

export const maskOnScreen = (): Promise<Row[]> =>
  atDesk(async ({ d, b, s }, app) => {
    await layThree(s);
    await b.open(app.url, "Ticket hall");
    await b.keys("p", Key.END, "3");
    await b.drag([
      [560, 120],
      [760, 260],
    ]);
    await b.saved();
    await b.keys("6");
    await pause(5000); // the exact frames are filled
    const path = Array.from({ length: 60 }, (_, i): [number, number] => [660 + 80 * Math.sin(i / 6), 190 + 40 * Math.cos(i / 5)]);
    await b.drag([[660, 190], ...path.slice(0, 30)]); // the browser compiles what is run often
    await b.drag([path[29], [660, 190]]);
    await d.executeScript(WATCH);
    await b.drag([[660, 190], ...path]);
    const { moves, paints } = await noted(d);
    const ms = p95(waits(moves.slice(2), paints));
    return [
      {
        what: "Mask edit to screen, 1280×720, over three keyed patches, p95",
        ours: `${ms.toFixed(0)} ms`,
        reach: "< 50 ms",
        judge: "–",
        ok: ms < 50,
      },
    ];
  });

const touch = (i: number): Touch => ({
  id: `t${i}`,
  kind: "clone",
  brush: { size: 50, hardness: 0.5, opacity: 1, flow: 1, spacing: 0.1 },
  path: [
    [200 + ((i * 97) % 1500), 150 + ((i * 61) % 800)],
    [230 + ((i * 97) % 1500), 170 + ((i * 61) % 800)],
  ],
  offset: [60, 10],
});

export const bigTake = (): Promise<Row[]> =>
  atDesk(async ({ d, b, s }, app) => {
    await s.upload("big.mp4", readFileSync(TAKE));
    const shot = await s.shot("big");
    for (;;) {
      if ((await s.takes()).every((t) => t.state === "ready")) break;
      await pause(500);
    }
    await lay(s, shot.id, [
      { path: ["plates", "p"], value: { name: "P", from: { take: "a", frame: 20 }, touches: Array.from({ length: 200 }, (_, i) => touch(i)) } },
    ]);
    await b.open(app.url, "big");
    await pause(12_000); // the exact frames are filled
    await d.executeScript(WATCH);
    const times: number[] = [];
    for (let i = 0; i < 30; i++) {
      await b.keys(Key.ARROW_RIGHT);
      await b.exact();
      await pause(60);
      const { keys, paints } = await noted(d);
      const exact = paints.find((p) => p.quality === "exact" && p.t > keys[0]);
      if (exact) times.push(exact.t - keys[0]);
    }
    const shown = p95(times);
    const opening = performance.now();
    await (await b.byLabel("Retouch P")).click();
    await b.exact();
    const opened = performance.now() - opening;
    await b.hover(620, 620);
    await b.keys("x");
    await noted(d);
    await b.drag(Array.from({ length: 40 }, (_, i): [number, number] => [500 + 12 * i, 500 + 60 * Math.sin(i / 5)]));
    const { moves, paints } = await noted(d);
    const brush = p95(waits(moves.slice(3), paints));
    return [
      {
        what: "Exact frame, 1080p, decoded already: key to screen, p95",
        ours: `${shown.toFixed(0)} ms`,
        reach: "< 80 ms",
        judge: "–",
        ok: shown < 80,
      },
      { what: "Opening a 1080p plate with 200 touches", ours: `${opened.toFixed(0)} ms`, reach: "< 1 s", judge: "–", ok: opened < 1000 },
      {
        what: "Brush on a 1080p plate with 200 touches: pointer to painted, p95",
        ours: `${brush.toFixed(0)} ms`,
        reach: "< 34 ms (two frames)",
        judge: "–",
        ok: brush < 34,
      },
    ];
  });
