import { spawn } from "node:child_process";
import { createHash } from "node:crypto";
import { accessSync, constants, existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { delimiter, join } from "node:path";

/** Runs a program to its end; what it prints goes to our stderr, so that stdout stays for answers. */
export function run(program, args, cwd, env = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { cwd, env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1", ...env }, stdio: ["ignore", 2, 2] });
    const end = () => child.kill("SIGTERM"); // what was begun ends with us
    process.once("exit", end);
    child.on("error", reject);
    child.on("close", (code) => {
      process.off("exit", end);
      resolve(code ?? 1);
    });
  });
}

const hash = (path) => createHash("sha256").update(readFileSync(path)).digest("hex");

/** Installs what package-lock.json names, when it is not there yet or has changed. */
export async function installPackages(root) {
  const mark = join(root, "node_modules", ".umber-lock");
  const want = hash(join(root, "package-lock.json"));
  if (existsSync(mark) && readFileSync(mark, "utf8") === want) return;
  console.error("Installing packages …");
  if ((await run("npm", ["ci", "--no-audit", "--no-fund"], root)) !== 0)
    throw new Error("npm could not install the packages: see its message above, check the network, and try again.");
  writeFileSync(mark, want);
}

/** Whether a program is found where programs are looked for; whether it runs is seen when it does. */
const has = (program) =>
  (process.env.PATH ?? "").split(delimiter).some((dir) => {
    try {
      accessSync(join(dir, program), constants.X_OK);
      return true;
    } catch {
      return false;
    }
  });

/** Installs Debian packages when one of their programs is missing and we may. */
export async function installPrograms(programs, packages) {
  const missing = programs.filter((p) => !has(p));
  if (missing.length === 0) return;
  const names = packages.join(" ");
  if (process.getuid?.() !== 0 || !has("apt-get"))
    throw new Error(`${missing.join(" and ")} not found: install it first, on Debian with: sudo apt-get install -y --no-install-recommends ${names}`);
  console.error(`Installing ${names} …`);
  const install = () => run("apt-get", ["install", "-y", "--no-install-recommends", ...packages], "/", { DEBIAN_FRONTEND: "noninteractive" });
  if ((await install()) === 0) return;
  await run("apt-get", ["update"], "/");
  if ((await install()) !== 0) throw new Error(`apt-get could not install ${names}: see its message above.`);
}

export const needFfmpeg = () =>
  process.env.FFMPEG_PATH && process.env.FFPROBE_PATH ? Promise.resolve() : installPrograms(["ffmpeg", "ffprobe"], ["ffmpeg"]);

function newest(path) {
  const s = statSync(path, { throwIfNoEntry: false });
  if (!s) return 0;
  if (!s.isDirectory()) return s.mtimeMs;
  return readdirSync(path).reduce((m, f) => Math.max(m, newest(join(path, f))), 0);
}

const age = (path) => statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? 0;
const SOURCES = ["src", "package-lock.json", "next.config.ts", "postcss.config.mjs", "tsconfig.json", "scripts"];

/** Bundles the engine, the process of its jobs, and the command line. */
export async function buildEngine(root) {
  if (age(join(root, "dist", "cli.mjs")) > Math.max(newest(join(root, "src")), newest(join(root, "scripts")))) return;
  const { build } = await import("esbuild");
  mkdirSync(join(root, "dist"), { recursive: true });
  await build({
    absWorkingDir: root,
    entryPoints: {
      engine: "src/engine/main.ts",
      job: "src/engine/jobs/child.ts",
      cli: "src/engine/cli/main.ts",
      "survey-worker": "src/engine/analysis/survey-worker.ts",
      "proof-worker": "src/engine/analysis/proof/proof-worker.ts",
    },
    outdir: "dist",
    outExtension: { ".js": ".mjs" },
    bundle: true,
    platform: "node",
    format: "esm",
    target: "node20",
    // what is native or finds its own files stays where it is; the rest begins sooner in one file
    external: ["sharp", "@libsql/client", "pino"],
    splitting: true,
    minifyWhitespace: true, // half as much to read at each start
    minifySyntax: true,
    banner: { js: 'import { createRequire as requireFor } from "node:module"; const require = requireFor(import.meta.url);' },
    sourcemap: true,
    logLevel: "error",
  });
}

export async function buildWeb(root) {
  if (age(join(root, ".next", "BUILD_ID")) > SOURCES.reduce((m, f) => Math.max(m, newest(join(root, f))), 0)) return;
  console.error("Building …");
  if ((await run(join(root, "node_modules", ".bin", "next"), ["build"], root)) !== 0) throw new Error("The build failed: see the message above.");
}
