import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { createServer, request, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join, relative } from "node:path";
import type { WebDriver } from "selenium-webdriver";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Endpoint } from "../src/wire/endpoint";
import { ENDPOINTS } from "../src/wire/endpoints";
import { type App, ROOT, startApp, until } from "./support/app";
import { complaints, downloads, openBrowser } from "./support/browser";
import { Session } from "./support/session";

/** Nobody in: every route against foreign names, tricks with paths, hostile footage; headers and policy as the browser sees them; the passphrase. */
const dir = mkdtempSync(join(tmpdir(), "umber-guard-"));
let app: App;
let s: Session;
let shot: string;
let take: string;

/** Every route there is, by the table of endpoints and as the file system has it, so that a new one is not forgotten. */
const api = join(ROOT, "src", "app", "api");
const tabled = Object.values<Endpoint>(ENDPOINTS)
  .filter((e) => e.asker === "page")
  .map(({ method, path }) => ({ method, path: `/api${path.replace(/:(\w+)/g, "[$1]")}` }));
const filed = readdirSync(api, { recursive: true })
  .map(String)
  .filter((f) => f.endsWith("route.ts"))
  .flatMap((f) => {
    const text = readFileSync(join(api, f), "utf8");
    const path = `/api/${relative(".", f).replace(/\/?route\.ts$/, "")}`;
    return ["GET", "POST"].filter((m) => text.includes(`export const ${m} `)).map((method) => ({ method, path }));
  })
  .filter((r) => !r.path.includes("[..."));
const routes = [...tabled, ...filed];

const ask = (method: string, path: string, headers: Record<string, string> = {}, port = new URL(app.url).port) =>
  new Promise<{ status: number; headers: Record<string, unknown>; body: string }>((resolve, reject) => {
    const r = request(
      {
        host: "127.0.0.1",
        port,
        method,
        path,
        headers: { "content-length": "2", "content-type": "application/json", origin: `http://${headers.host ?? `127.0.0.1:${port}`}`, ...headers },
      },
      (res) => {
        let body = "";
        res.on("data", (d: Buffer) => (body += String(d)));
        res.on("end", () => resolve({ status: res.statusCode!, headers: res.headers, body }));
      },
    );
    r.on("error", reject);
    r.end("{}");
  });

beforeAll(async () => {
  app = await startApp("demo");
  s = new Session(app);
  shot = (await s.shot("Ticket hall")).id;
  take = (await s.document(shot)).recipe.takes.a.asset!;
});
afterAll(async () => app?.stop());

it("knows all its routes", () => {
  expect(routes.length).toBeGreaterThan(25);
});

describe("every route", () => {
  it.each(routes)("$method $path refuses foreign names, origins and pages", async ({ method, path }) => {
    const at = path.replace("[id]", take).replace("[n]", "0");
    const port = new URL(app.url).port;
    for (const headers of [
      { host: `evil.example:${port}` },
      { host: "127.0.0.1.evil.example" },
      { origin: "http://evil.example" },
      { origin: "null" },
      { origin: `http://localhost.evil.example:${port}` },
      { "sec-fetch-site": "cross-site" },
      { "sec-fetch-site": "same-site" },
    ] as Record<string, string>[]) {
      const r = await ask(method, at, headers);
      expect([headers, r.status]).toEqual([headers, 403]);
    }
  });
  it.each(routes.filter((r) => r.path.includes("[")))("$method $path answers tricks with names by nothing", async ({ method, path }) => {
    for (const trick of [
      "..%2f..%2fumber.db",
      "%2e%2e",
      "..%5c..%5c",
      "%00",
      `${take}%2f..%2f..`,
      "....%2f%2f",
      "x".repeat(3000),
      "%F0%28%8C",
      `${take}%00`,
      "*",
    ]) {
      const places = [
        path.replace("[id]", trick).replace("[n]", "0"),
        ...(path.includes("[n]") ? [path.replace("[id]", take).replace("[n]", trick)] : []),
      ];
      for (const place of places) {
        const r = await ask(method, place);
        // dots are taken out of an address before any route sees it (308), and an address that is no UTF-8 never reaches one (500)
        const allowed = trick === "%2e%2e" ? [308, 400, 404, 405] : trick === "%F0%28%8C" ? [400, 404, 500] : [400, 404];
        expect([place, r.status]).toEqual([place, allowed.find((x) => x === r.status)]);
        expect(r.body).not.toMatch(/SQLite|\n\s+at |node_modules/);
      }
    }
  });
});

it("keeps footage and stills inside its folder, whatever they are called", async () => {
  const small = join(dir, "small.mp4");
  execFileSync("ffmpeg", ["-v", "error", "-y", "-f", "lavfi", "-i", "testsrc2=s=64x64:r=5:d=1", "-pix_fmt", "yuv420p", small]);
  const film = readFileSync(small);
  for (const name of ["../../../evil.mp4", "a/../../b.mp4", "/tmp/evil.mp4", "..\\..\\evil.mp4", "x\u0000.mp4", "evil.mp4/../../.."]) {
    const r = await s.upload(name, film);
    expect([name, r.status]).toEqual([name, 200]);
  }
  expect([existsSync("/tmp/evil.mp4"), existsSync(join(app.data, "..", "evil.mp4"))]).toEqual([false, false]);
  const own = await until("the takes", async () => ((await s.takes()).every((t) => t.state === "ready") ? s.takes() : null));
  for (const t of own.filter((x) => x.name !== "Ticket hall.mp4")) {
    expect(readdirSync(join(app.data, "takes", t.id)).filter((f) => f.startsWith("original")).length).toBe(1);
    await s.post(`/api/takes/${t.id}/remove`, {});
  }
  for (const name of ["../x.png", "a/b.png", "..", "x.exe", "\u0000.png", ".png\u0000/../y"]) {
    const r = await fetch(`${app.url}/api/stills/${crypto.randomUUID()}?${new URLSearchParams({ name })}`, {
      method: "POST",
      headers: { origin: app.url },
      body: "x",
    });
    expect([name, r.status]).toEqual([name, 400]);
  }
});

describe("hostile footage opens nothing else", () => {
  let server: Server;
  let hits: string[];
  let base: string;
  const secret = join(dir, "secret.mp4");

  beforeAll(async () => {
    execFileSync("ffmpeg", ["-v", "error", "-y", "-f", "lavfi", "-i", "testsrc2=s=64x64:r=5:d=1", "-pix_fmt", "yuv420p", secret]);
    server = createServer((req, res) => {
      hits.push(req.url!);
      res.end(readFileSync(secret));
    });
    await new Promise<void>((r) => server.listen(0, "127.0.0.1", r));
    base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    hits = [];
  });
  afterAll(() => server.close());

  it("playlists, lists, manifests, scripts and drawings under any name are refused with a sentence", async () => {
    const m3u8 = (u: string) => `#EXTM3U\n#EXT-X-VERSION:3\n#EXT-X-TARGETDURATION:5\n#EXTINF:5,\n${u}\n#EXT-X-ENDLIST\n`;
    const hostile: Record<string, string> = {
      "playlist by file": m3u8(`file://${secret}`),
      "playlist by address": m3u8(`${base}/playlist`),
      "playlist by trick": m3u8(`concat:${secret}|${base}/concat`),
      "list of files": `ffconcat version 1.0\nfile '${secret}'\nduration 1\n`,
      "list by address": `ffconcat version 1.0\nfile '${base}/list'\n`,
      manifest: `<?xml version="1.0"?><MPD xmlns="urn:mpeg:dash:schema:mpd:2011" type="static" mediaPresentationDuration="PT1S"><Period><AdaptationSet mimeType="video/mp4"><Representation id="1" bandwidth="1"><BaseURL>${base}/dash</BaseURL></Representation></AdaptationSet></Period></MPD>`,
      session: `v=0\no=- 0 0 IN IP4 127.0.0.1\ns=x\nc=IN IP4 127.0.0.1\nt=0 0\nm=video 5004 RTP/AVP 96\na=rtpmap:96 H264/90000\n`,
      drawing: `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="9" height="9"><image xlink:href="${base}/svg" width="9" height="9"/></svg>`,
      subtitles: `[Script Info]\nScriptType: v4.00+\n[Fonts]\nfontname: ${base}/font\n`,
    };
    for (const [what, text] of Object.entries(hostile))
      for (const ext of ["mp4", "mkv", "m3u8", "txt"]) {
        const r = await s.upload(`${what}.${ext}`, Buffer.from(text));
        expect([what, ext, r.status]).toEqual([what, ext, 422]);
        expect(r.value.error!.split("\n").length).toBe(1);
        expect(r.value.error).not.toContain("secret");
      }
    expect(hits).toEqual([]);
    expect((await s.takes()).map((t) => t.name)).toEqual(["Ticket hall.mp4"]);
  });

  it("a film with references in its subtitles, cover and attachments is taken for its pictures alone", async () => {
    const ass = join(dir, "s.ass");
    writeFileSync(
      ass,
      `[Script Info]\nScriptType: v4.00+\n\n[Events]\nFormat: Start, End, Text\nDialogue: 0:00:00.00,0:00:01.00,{\\img(${base}/sub)}x\n`,
    );
    const cover = join(dir, "cover.png");
    execFileSync("ffmpeg", ["-v", "error", "-y", "-f", "lavfi", "-i", "color=red:s=32x32", "-frames:v", "1", cover]);
    const list = join(dir, "list.txt");
    writeFileSync(list, `ffconcat version 1.0\nfile '${base}/attached'\n`);
    const mixed = join(dir, "mixed.mkv");
    execFileSync("ffmpeg", [
      ...["-v", "error", "-y", "-i", secret, "-i", ass, "-map", "0:v", "-map", "1:s", "-c:v", "copy", "-c:s", "copy"],
      ...["-attach", cover, "-metadata:s:t:0", "mimetype=image/png", "-metadata:s:t:0", "filename=cover.png"],
      ...["-attach", list, "-metadata:s:t:1", "mimetype=application/x-ffconcat", "-metadata:s:t:1", "filename=list.ffconcat", mixed],
    ]);
    expect((await s.upload("mixed.mkv", readFileSync(mixed))).status).toBe(200);
    const t = await until("the take", async () => (await s.takes()).find((x) => x.name === "mixed.mkv" && x.state === "ready"));
    expect([t.info!.width, t.info!.frames]).toEqual([64, 5]);
    const mine = (await s.productions()).flatMap((p) => p.shots).find((x) => x.takeId === t.id)!;
    await s.post(`/api/shots/${mine.id}/renders`, { codec: "ffv1" });
    await until("the render", async () => (await s.get<{ state: string }[]>(`/api/shots/${mine.id}/renders`))[0]?.state === "done");
    expect(hits).toEqual([]);
  });
});

it("what changes something needs an Origin, /icon.svg and all pages are made of a name of ours, and bodies have a limit", async () => {
  const port = new URL(app.url).port;
  const bare = (path: string) =>
    new Promise<number>((resolve, reject) => {
      const r = request({ host: "127.0.0.1", port, method: "POST", path, headers: { "content-length": "2" } }, (res) => {
        res.resume();
        resolve(res.statusCode!);
      });
      r.on("error", reject);
      r.end("{}");
    });
  for (const path of ["/api/productions", `/api/shots/${shot}/edits`, "/api/takes?name=a.mp4"]) expect([path, await bare(path)]).toEqual([path, 403]);
  const script = /\/_next\/static\/[^"]+\.js/.exec((await ask("GET", "/")).body)![0];
  for (const path of ["/icon.svg", script, "/"])
    for (const host of ["evil.example", `evil.example:${port}`, "127.0.0.1.evil.example"])
      expect([path, host, (await ask("GET", path, { host, origin: `http://${host}` })).status]).toEqual([path, host, 403]);
  expect([(await ask("GET", "/icon.svg")).status, (await ask("GET", script)).status]).toEqual([200, 200]);
  const long = await s.post(`/api/shots/${shot}/edits`, { name: "x".repeat(65e6) });
  expect([long.status, long.value.error]).toEqual([413, "The request is larger than 64 MB."]);
});

it("ids and keys of requests lead nowhere else, and what fails says nothing of paths, SQL or stacks", async () => {
  const work = crypto.randomUUID();
  const outline = [[100, 100], [300, 100], [300, 300]]; // prettier-ignore
  const align = (t: string) => s.post(`/api/shots/${shot}/align`, { take: t, at: 3, frame: 3, avoid: [], work });
  const edit = (patches: object[], inverse: object[]) =>
    s.post(`/api/shots/${shot}/edits`, { editId: crypto.randomUUID(), base: 0, name: "x", patches, inverse });
  const set = (path: (string | number)[], value: unknown, back: unknown) =>
    edit([{ op: "replace", path, value }], [{ op: "replace", path, value: back }]);
  const answers = [
    await align("../../x"),
    await align("00000000-0000-4000-8000-000000000000"),
    await s.post(`/api/shots/${shot}/build`, { take: "constructor", built: { in: 0, out: 5 }, work }),
    await s.post(`/api/shots/${shot}/build`, { take: "__proto__", built: { in: 0, out: 5 }, work }),
    await s.post(`/api/shots/${shot}/outside`, { plate: "constructor", kind: "png8", frame: 0 }),
    await s.post(`/api/shots/${shot}/colour`, { frame: 1e8, outline }),
    await s.post(`/api/shots/${shot}/colour`, { frame: 3, outline: [[0], [1], [2]] }),
    await s.post(`/api/shots/${shot}/find`, { at: 1e7, outline, work }),
    await set(["takes", "a", "asset"], "../../x", take),
    await set(["takes", "a", "asset"], "00000000-0000-4000-8000-000000000000", take),
    await edit([{ op: "add", path: ["__proto__", "x"], value: 1 }], [{ op: "remove", path: ["__proto__", "x"] }]),
    await edit(
      [{ op: "add", path: ["plates", "constructor"], value: { from: { take: "a", frame: 1 }, touches: [] } }],
      [{ op: "remove", path: ["plates", "constructor"] }],
    ),
    await edit([{ op: "replace", path: ["name"], value: "x" }], [{ op: "replace", path: ["name"], value: "not what it was" }]),
    await edit([{ op: "replace", path: ["plates", "none", "name"], value: "x" }], [{ op: "replace", path: ["name"], value: "x" }]),
  ];
  for (const key of ["../../x", "a".repeat(64), "", encodeURIComponent('built:["a",{"in":0,"out":95}]')])
    for (const name of ["hash", "key"]) {
      const r = await fetch(`${app.url}/api/shots/${shot}/picture?${name}=${key}`);
      answers.push({ status: r.status, value: (await r.json()) as { error: string } });
    }
  for (const [i, r] of answers.entries()) {
    expect([i, r.status, r.value.error]).toEqual([i, [400, 404, 422, 425].find((x) => x === r.status), expect.any(String)]);
    expect(r.value.error).not.toMatch(/SQLite|SELECT|ENOENT|\n|node_modules|\/tmp|\.json/);
    expect(r.value.error).not.toContain(app.data);
  }
  expect((await s.document(shot)).rev).toBe(0);
  expect(readdirSync(join(app.data, "cache")).filter((f) => f !== take)).toEqual([]);
  expect(existsSync(join(app.data, "..", "x"))).toBe(false);
});

describe("in the browser", () => {
  let d: WebDriver;
  beforeAll(async () => (d = await openBrowser(downloads())));
  afterAll(async () => d?.quit());

  it("a policy by nonce, another for every page, and no script without it", async () => {
    const pages = [await ask("GET", "/"), await ask("GET", "/"), await ask("GET", `/shots/${shot}`)];
    const policies = pages.map((p) => String(p.headers["content-security-policy"]));
    const nonces = policies.map((p) => /script-src 'self' 'nonce-([^']+)' 'strict-dynamic'/.exec(p)![1]);
    expect(new Set(nonces).size).toBe(3);
    for (const p of policies) {
      // the core's inner loops are WebAssembly, which runs no text
      expect(/script-src([^;]*)/.exec(p)![1].replace("'wasm-unsafe-eval'", "")).not.toContain("unsafe");
      for (const rule of ["object-src 'none'", "base-uri 'none'", "frame-ancestors 'none'", "connect-src 'self'"]) expect(p).toContain(rule);
    }
    for (const r of [pages[0], await ask("GET", "/api/state")]) {
      expect(r.headers).toMatchObject({
        "x-content-type-options": "nosniff",
        "x-frame-options": "DENY",
        "referrer-policy": "no-referrer",
        "cross-origin-opener-policy": "same-origin",
      });
      expect(r.headers["x-powered-by"]).toBeUndefined();
    }
    await d.get(app.url);
    await until("the page", async () => (await d.getTitle()) === "Umber Moth");
    expect(await complaints(d)).toEqual([]);
    await d.executeScript(`document.body.insertAdjacentHTML("beforeend", '<img src="x:" onerror="window.caught = 1">');
      const s = document.createElement("div"); s.innerHTML = "<script>window.caught = 2</scr" + "ipt>"; document.body.append(s);
      const l = document.createElement("a"); l.href = "javascript:window.caught = 3"; document.body.append(l); l.click();
      fetch("http://127.0.0.1:9/").catch(() => (window.blocked = true));`);
    await until("the fetch to be blocked", async () => await d.executeScript<boolean>("return window.blocked"));
    expect(await d.executeScript("return window.caught ?? 0")).toBe(0);
    const said = (await complaints(d)).join("\n");
    expect(said).toContain("Content Security Policy");
    expect(said).toContain("connect-src 'self'");
  });
});

describe("beyond this machine", () => {
  it("is not opened without a passphrase", async () => {
    await expect(startApp("start", undefined, { HOST: "0.0.0.0", UMBER_PASSPHRASE: "short" })).rejects.toThrow(
      "set UMBER_PASSPHRASE to 8 characters or more",
    );
  });

  it("asks for the passphrase on every page and route, and lets in who has it", async () => {
    const open = await startApp("start", undefined, { HOST: "0.0.0.0", UMBER_PASSPHRASE: "a boat to Vell" });
    const port = new URL(open.url).port;
    try {
      const named = { host: `studio.local:${port}` };
      for (const { method, path } of routes.filter((r) => !["/api/enter"].includes(r.path)))
        expect([path, (await ask(method, path.replace("[id]", take).replace("[n]", "0"), named, port)).status]).toEqual([path, 401]);
      const page = await ask("GET", "/", { ...named, "sec-fetch-mode": "navigate" }, port);
      expect([page.status, new URL(String(page.headers.location), open.url).pathname]).toEqual([307, "/enter"]);
      const forged = await ask("GET", "/api/state", { ...named, cookie: `umber=${"0".repeat(64)}` }, port);
      expect(forged.status).toBe(401);
      expect((await ask("GET", "/api/state", { ...named, origin: "http://evil.example" }, port)).status).toBe(403);

      const cookieOf = (r: { headers: Record<string, unknown> }) => String((r.headers["set-cookie"] as string[])[0]);
      const guess = (passphrase: string, more: Record<string, string> = {}) =>
        new Promise<{ status: number; headers: Record<string, unknown>; body: string }>((resolve, reject) => {
          const body = JSON.stringify({ passphrase });
          const headers = { ...named, origin: `http://${named.host}`, "content-type": "application/json", "content-length": body.length, ...more };
          const r = request({ host: "127.0.0.1", port, method: "POST", path: "/api/enter", headers }, (res) => {
            let text = "";
            res.on("data", (d: Buffer) => (text += String(d)));
            res.on("end", () => resolve({ status: res.statusCode!, headers: res.headers, body: text }));
          });
          r.on("error", reject);
          r.end(body);
        });
      // behind https the cookie stays there; whoever leaves has left for good
      const plain = cookieOf(await guess("a boat to Vell"));
      const safe = cookieOf(await guess("a boat to Vell", { "x-forwarded-proto": "https" }));
      expect([/Secure/.test(plain), /HttpOnly; SameSite=Strict; Secure/.test(safe)]).toEqual([false, true]);
      const mine = { ...named, cookie: plain.split(";")[0] };
      expect((await ask("GET", "/api/state", mine, port)).status).toBe(200);
      expect((await ask("POST", "/api/leave", mine, port)).status).toBe(200);
      expect((await ask("GET", "/api/state", mine, port)).status).toBe(401);
      expect((await ask("GET", "/api/state", { ...named, cookie: safe.split(";")[0] }, port)).status).toBe(200);

      const d = await openBrowser(downloads());
      try {
        await d.get(open.url);
        const field = await until("the question", () => d.findElement({ css: "main[aria-busy=false] input[type=password]" }));
        await field.sendKeys("a boat to Hell\n");
        await until("the refusal", async () => (await d.findElement({ css: "form [role=alert]" }).getText()).includes("not the passphrase"));
        await field.clear();
        await field.sendKeys("a boat to Vell\n");
        await until("the first page", async () => (await d.findElement({ css: "main" }).getText()).includes("Drop footage anywhere"));
        const cookie = (await d.manage().getCookies()).find((c) => c.name === "umber")!;
        expect([cookie.httpOnly, cookie.sameSite]).toEqual([true, "Strict"]);
        await d.findElement({ xpath: "//button[normalize-space(.)='Leave']" }).click();
        await until("the question again", async () => (await d.getCurrentUrl()).endsWith("/enter"));
        await d.get(open.url);
        await until("still the question", async () => (await d.getCurrentUrl()).endsWith("/enter"));
      } finally {
        await d.quit();
      }
      // many guesses at once: each counts, and after five none is heard for a while, whoever makes it
      const guesses = await Promise.all(Array.from({ length: 12 }, (_, i) => guess(`guess ${i}`)));
      expect(guesses.map((g) => g.status).sort()).toEqual([...Array<number>(5).fill(401), ...Array<number>(7).fill(429)]);
      const late = await guess("a boat to Vell");
      expect([late.status, late.body]).toEqual([429, expect.stringMatching(/Too many wrong passphrases were given: the next is heard in \d+ s/)]);
      expect(open.said().match(/a wrong passphrase was given/g)).toHaveLength(6);
    } finally {
      await open.stop();
    }
  });
});
