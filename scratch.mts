import { startApp } from "./e2e/support/app";
import { BenchDriver, By, downloads, Key, openBrowser } from "./e2e/support/browser";
import { Session } from "./e2e/support/session";
import { readFileSync } from "node:fs";
const src = readFileSync("bench/rows/screen.ts", "utf8");
const WATCH = /const WATCH = `([\s\S]*?)`;/.exec(src)![1];
const ellipse = (x: number, y: number, r: number) => ({ shapes: [{ kind: "ellipse", op: "add", center: { keys: [{ f: 0, v: [x - 60, y] }, { f: 48, v: [x, y + 10] }, { f: 95, v: [x + 60, y] }] }, radii: { keys: [{ f: 0, v: [r, r * 0.7] }, { f: 95, v: [r * 1.2, r * 0.8] }] } }], feather: 24 });
const layer = (id: string, mask: object) => ({ id, kind: "patch", in: 0, out: 95, source: { plate: "p" }, mask });
const app = await startApp("demo");
const d = await openBrowser(downloads());
const b = new BenchDriver(d), s = new Session(app);
const pause = (ms: number) => new Promise((r) => setTimeout(r, ms));
const q = (v: number[], p: number) => v.sort((a, b) => a - b)[Math.floor(v.length * p)]?.toFixed(0);
const three = process.argv[2] !== "one";
if (three) {
  const shot = (await s.shot("Ticket hall")).id;
  const { rev } = await s.document(shot);
  const changes = [{ path: ["plates", "p"], value: { from: { take: "a", frame: 20 }, touches: [] } }, { path: ["intruders", 0], value: { id: "i", name: "x", layers: [layer("l", ellipse(700, 150, 120)), layer("m", ellipse(400, 300, 100)), layer("n", ellipse(900, 480, 140))] } }];
  await s.post(`/api/shots/${shot}/edits`, { editId: "bench-12345", base: rev, name: "x", patches: changes.map((c) => ({ op: "add", ...c })), inverse: changes.map((c) => ({ op: "remove", path: c.path })) });
} else await s.shot("Ticket hall");
await b.open(app.url, "Ticket hall");
await b.keys("p", Key.END, "3");
await b.drag([[560, 120], [760, 260]]);
await b.saved();
await b.keys("6"); await b.exact();
await pause(5000);
const path = Array.from({ length: 60 }, (_, i): [number, number] => [660 + 80 * Math.sin(i / 6), 190 + 40 * Math.cos(i / 5)]);
await b.drag([[660, 190], ...path.slice(0, 30)]);
await b.drag([path[29], [660, 190]]);
for (const h of ["on", "off"]) {
  if (h === "off") await b.keys("h");
  await d.executeScript(WATCH);
  await b.drag([[660, 190], ...path]);
  const n: any = await d.executeScript("const n = window.noted; window.noted = { keys: [], moves: [], paints: [] }; return n;");
  const w = n.moves.slice(2).flatMap((e: number) => { const p = n.paints.find((x: any) => x.t >= e); return p ? [p.t - e] : []; });
  console.log(process.argv[2], "handles", h, "median", q(w, 0.5), "p95", q(w, 0.95), "moves", n.moves.length, "paints", n.paints.length);
  await b.drag([path[59], [660, 190]]);
}
if (process.argv[2] === "prof") {
  await b.keys("h");
  await (d as any).sendDevToolsCommand("Profiler.enable", {}); await (d as any).sendDevToolsCommand("Profiler.start", {});
  await b.drag([[660, 190], ...path]);
  const r = await (d as any).sendAndGetDevToolsCommand("Profiler.stop", {});
  const prof = r.profile ?? r; const self = new Map<string, number>();
  const dt = prof.timeDeltas; const byId = new Map(prof.nodes.map((x: any) => [x.id, x]));
  prof.samples.forEach((id: number, i: number) => { const x: any = byId.get(id); const k = x.callFrame.functionName + " " + x.callFrame.url.split("/").pop() + ":" + x.callFrame.lineNumber; self.set(k, (self.get(k) ?? 0) + dt[i] / 1000); });
  console.log([...self].sort((a, b) => b[1] - a[1]).slice(0, 14).map(([k, v]) => `${v.toFixed(0)} ${k}`).join("\n"));
}
await d.quit(); await app.stop();
