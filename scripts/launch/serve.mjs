import { spawn } from "node:child_process";
import { randomBytes } from "node:crypto";
import { createServer } from "node:net";
import { join, resolve } from "node:path";
import { buildEngine, buildWeb, installPackages, needFfmpeg } from "./steps.mjs";

const free = (port, host) =>
  new Promise((ok, no) => {
    const s = createServer()
      .once("error", no)
      .listen(port, host, () => {
        const { port: got } = s.address();
        s.close(() => ok(got));
      });
  });

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
  await installPackages(root);
  await needFfmpeg();
  await buildEngine(root);
  await buildWeb(root);
  await free(port, host).catch(() => {
    throw new Error(`Port ${port} is taken by another program: stop it, or choose another with PORT=4871 ./umber ${demo ? "demo" : "start"}.`);
  });
  const env = {
    ...process.env,
    NODE_ENV: "production",
    NEXT_TELEMETRY_DISABLED: "1",
    PORT: String(port),
    HOST: host,
    UMBER_ROOT: root,
    UMBER_EXPOSED: exposed ? "1" : "0",
    UMBER_DEMO: demo ? process.env.UMBER_DEMO || "1" : "",
    UMBER_DATA: resolve(process.env.UMBER_DATA || join(root, "data")),
    UMBER_ENGINE_PORT: String(await free(0, "127.0.0.1")),
    UMBER_ENGINE_SECRET: randomBytes(24).toString("hex"),
  };
  let leaving = false;
  const running = new Map();
  const keep = (name, args) => {
    const started = Date.now();
    const child = spawn(process.execPath, args, { cwd: root, env, stdio: ["ignore", name === "web" ? "ignore" : "inherit", "inherit"] });
    running.set(name, child);
    if (process.env.UMBER_PIDS) console.log(`${name} ${child.pid}`);
    child.on("close", (code) => {
      if (leaving) return;
      console.error(`The ${name} process ended (${code ?? "killed"}); it is started again.`);
      setTimeout(() => !leaving && keep(name, args), Date.now() - started < 2000 ? 1000 : 100);
    });
  };
  keep("engine", ["--enable-source-maps", join(root, "dist", "engine.mjs")]);
  keep("web", [join(root, "node_modules", "next", "dist", "bin", "next"), "start", "-p", String(port), "-H", host]);
  const address = `http://${host === "::1" ? "[::1]" : host === "0.0.0.0" || host === "::" ? "127.0.0.1" : host}:${port}`;
  await answers(`${address}/api/state`);
  console.log(`Umber Moth is at ${address}`);
  return new Promise((done) => {
    const leave = () => {
      leaving = true;
      const ends = [...running.values()].map((c) => c.exitCode === null && c.signalCode === null && new Promise((end) => c.once("exit", end)));
      running.forEach((c) => c.kill("SIGTERM"));
      // a connection that a browser keeps open would hold the pages' process, and with it the port, for a minute
      setTimeout(() => running.forEach((c) => c.kill("SIGKILL")), 1500).unref();
      void Promise.all(ends).then(() => process.exit(0));
      done(0);
    };
    process.on("SIGINT", leave).on("SIGTERM", leave);
  });
}

async function answers(url) {
  for (let i = 0; i < 300; i++) {
    if (
      await fetch(url).then(
        (r) => r.ok || r.status === 401, // it answers, and asks for the passphrase
        () => false,
      )
    )
      return;
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error("Umber Moth did not start within 30 s: see the messages above.");
}
