import { startApp } from "./e2e/support/app";
import { BenchDriver, By, complaints, downloads, Key, openBrowser } from "./e2e/support/browser";
import { Session } from "./e2e/support/session";
const ellipse = (x: number, y: number, r: number) => ({ shapes: [{ kind: "ellipse", op: "add", center: { keys: [{ f: 0, v: [x - 60, y] }, { f: 48, v: [x, y + 10] }, { f: 95, v: [x + 60, y] }] }, radii: { keys: [{ f: 0, v: [r, r * 0.7] }, { f: 95, v: [r * 1.2, r * 0.8] }] } }], feather: 24 });
const layer = (id: string, mask: object) => ({ id, kind: "patch", in: 0, out: 95, source: { plate: "p" }, mask });
const app = await startApp("demo");
const d = await openBrowser(downloads());
const b = new BenchDriver(d), s = new Session(app);
const pause = (ms: number) => new Promise((r) => setTimeout(r, ms));
const shot = (await s.shot("Ticket hall")).id;
if (process.argv[2] !== "none") {
const { rev } = await s.document(shot);
const changes = [{ path: ["plates", "p"], value: { from: { take: "a", frame: 20 }, touches: [] } }, { path: ["intruders", 0], value: { id: "i", name: "x", layers: [layer("l", ellipse(700, 150, 120)), layer("m", ellipse(400, 300, 100)), layer("n", ellipse(900, 480, 140))] } }];
await s.post(`/api/shots/${shot}/edits`, { editId: "bench-12345", base: rev, name: "x", patches: changes.map((c) => ({ op: "add", ...c })), inverse: changes.map((c) => ({ op: "remove", path: c.path })) });
}
await b.open(app.url, "Ticket hall");
await pause(3000);
await b.keys(" ");
await pause(4500);
await complaints(d);
if (process.argv[3] === "prof") {
  await (d as any).sendDevToolsCommand("Profiler.enable", {}); await (d as any).sendDevToolsCommand("Profiler.start", {});
  await pause(4000);
  const r = await (d as any).sendAndGetDevToolsCommand("Profiler.stop", {});
  const prof = r.profile ?? r; const self = new Map<string, number>();
  const dt = prof.timeDeltas; const byId = new Map(prof.nodes.map((x: any) => [x.id, x]));
  prof.samples.forEach((id: number, i: number) => { const x: any = byId.get(id); const k = x.callFrame.functionName + " " + x.callFrame.url.split("/").pop() + ":" + x.callFrame.lineNumber; self.set(k, (self.get(k) ?? 0) + dt[i] / 1000); });
  console.log([...self].sort((a, b) => b[1] - a[1]).slice(0, 14).map(([k, v]) => `${v.toFixed(0)} ${k}`).join("\n"));
} else await pause(2000);
console.log((await complaints(d)).slice(-25).map((m: string) => m.replace(/^.*MOVE/, "M").slice(0, 140)).join("\n"));
console.log(await (await b.find("[data-testid=dropped]")).getText());
await d.quit(); await app.stop();
