import { randomBytes } from "node:crypto";
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { pathToFileURL } from "node:url";
import { openLog } from "./log.mjs";
import { buildEngine, buildWeb, installPackages, needFfmpeg } from "./steps.mjs";
import { keepRunning } from "./watch.mjs";

const free = (port, host) =>
  new Promise((ok, no) => {
    const s = createServer()
      .once("error", no)
      .listen(port, host, () => {
        const { port: got } = s.address();
        s.close(() => ok(got));
      });
  });

/** Where a program that is alive says it answers for this data folder; its lock decides, this is for the words. */
function runningAt(data) {
  try {
    const { address, pid } = JSON.parse(readFileSync(join(data, "running.json"), "utf8"));
    process.kill(pid, 0);
    return address;
  } catch {
    return null;
  }
}

/** Installs, builds, starts the engine and the web process, watches both, prints the address. */
export async function serve(root, demo) {
  const port = Number(process.env.PORT || 4870);
  const host = process.env.HOST || "127.0.0.1";
  if (!Number.isInteger(port) || port < 1 || port > 65535) throw new Error(`PORT is “${process.env.PORT}”: a number from 1 to 65535 is allowed.`);
  const exposed = !["127.0.0.1", "localhost", "::1"].includes(host);
  if (exposed && (process.env.UMBER_PASSPHRASE ?? "").length < 8)
    throw new Error(
      `HOST is “${host}”, which opens Umber Moth beyond this machine: set UMBER_PASSPHRASE to 8 characters or more, or leave HOST at 127.0.0.1.`,
    );
  // heard from the first moment on
  let interrupted = () => process.exit(0);
  for (const s of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(s, () => interrupted());
  const data = resolve(process.env.UMBER_DATA || join(root, "data"));
  await installPackages(root);
  await needFfmpeg();
  await buildEngine(root);
  await buildWeb(root);
  // what is kept is the user's own: nobody else of this machine reads it
  process.umask(0o077);
  try {
    mkdirSync(data, { recursive: true });
    chmodSync(data, 0o700);
  } catch {
    // what is in its place is looked at by the engine, which says what to do
  }
  const shown = host === "::1" ? "[::1]" : host === "0.0.0.0" || host === "::" ? "127.0.0.1" : host;
  const address = `http://${shown}:${port}`;
  await free(port, host).catch(() => {
    if (runningAt(data) === address)
      throw new Error(
        `This data folder is in use by Umber Moth, which answers at ${address}: go there, end it first, or set UMBER_DATA to another folder.`,
      );
    throw new Error(`Port ${port} is taken by another program: stop it, or choose another with PORT=4871 ./umber ${demo ? "demo" : "start"}.`);
  });
  const sockets = mkdtempSync(join(tmpdir(), "umber-"));
  const env = {
    ...process.env,
    NODE_ENV: "production",
    NEXT_TELEMETRY_DISABLED: "1",
    PORT: String(port),
    HOST: host,
    UMBER_ROOT: root,
    UMBER_EXPOSED: exposed ? "1" : "0",
    UMBER_DEMO: demo ? process.env.UMBER_DEMO || "1" : "",
    UMBER_DATA: data,
    UMBER_ADDRESS: address,
    // in a folder of its own that nobody else can open; the data folder's path may be too long for a socket
    UMBER_ENGINE_SOCKET: join(sockets, "engine"),
    UMBER_ENGINE_SECRET: randomBytes(24).toString("hex"),
  };
  const next = join(root, "node_modules", "next", "dist", "bin", "next");
  process.on("exit", () => rmSync(sockets, { recursive: true, force: true }));
  const heard = await openLog(data);
  const parts = [];
  let over;
  const finished = new Promise((done) => (over = done));
  let leaving = false;
  const leave = async (status) => {
    if (leaving) return;
    leaving = true;
    // the engine closes the database; a connection that a browser keeps open would hold the pages' process for a minute
    await Promise.all(parts.map(({ part, patience }) => part.end(patience)));
    over(status);
    process.exit(status);
  };
  interrupted = () => void leave(0);
  parts.push({
    part: keepRunning({
      name: "engine",
      args: ["--enable-source-maps", join(root, "dist", "engine.mjs")],
      cwd: root,
      env,
      stdout: "pipe",
      watched: true,
      heard,
      gone: () => void leave(1),
    }),
    patience: 6000,
  });
  parts.push({
    part: keepRunning({
      name: "web",
      args: ["--import", pathToFileURL(join(root, "scripts", "launch", "with-parent.mjs")).href, next, "start", "-p", String(port), "-H", host],
      cwd: root,
      env,
      stdout: "ignore",
      watched: false,
      heard,
      gone: () => void leave(1),
    }),
    patience: 1500,
  });
  await answers(`${address}/api/state`, () => leaving).catch((e) => {
    console.error(e.message);
    return leave(1);
  });
  if (!leaving) console.log(`Umber Moth is at ${address}`);
  return finished;
}

async function answers(url, leaving) {
  for (let i = 0; i < 3000 && !leaving(); i++) {
    const r = await fetch(url).catch(() => null);
    // it answers, asks for the passphrase, or says why it cannot work on its data
    if (r && (r.ok || r.status === 401 || (await r.json().catch(() => ({}))).code === "trouble")) return;
    await new Promise((r) => setTimeout(r, 100));
  }
  if (!leaving()) throw new Error("Umber Moth did not answer within five minutes of its start: see the messages above.");
}
