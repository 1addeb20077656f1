import { build } from "esbuild";
import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { expect, it } from "vitest";

const root = new URL("../..", import.meta.url).pathname;
const folder = mkdtempSync(join(tmpdir(), "umber-orphans-"));

/** Starts a process with `args` from a parent that is killed at once, while the other is still reading its modules; says whether it ends. */
async function endsAlone(args: string[]): Promise<boolean> {
  const parent = join(folder, "parent.cjs");
  writeFileSync(
    parent,
    `const c = require("child_process").spawn(process.execPath, ${JSON.stringify(args)}, { stdio: ["ignore", "ignore", "ignore", "ipc"] });
     require("fs").writeSync(1, String(c.pid));
     process.exit(0);`,
  );
  const pid = Number(execFileSync(process.execPath, [parent]).toString());
  const end = Date.now() + 60_000;
  while (Date.now() < end) {
    try {
      process.kill(pid, 0);
    } catch {
      return true;
    }
    await new Promise((r) => setTimeout(r, 50));
  }
  process.kill(pid, "SIGKILL");
  return false;
}

it("the pages' process ends when its launcher has gone before it was heard", async () => {
  const forever = join(folder, "forever.mjs");
  writeFileSync(forever, "setInterval(() => {}, 1000);");
  expect(await endsAlone(["--import", pathToFileURL(join(root, "scripts/launch/with-parent.mjs")).href, forever])).toBe(true);
});

it("engine and jobs do, too", async () => {
  const entry = join(folder, "late.ts");
  const outfile = join(folder, "late.mjs");
  // it asks only after its parent has long gone
  writeFileSync(
    entry,
    `import { whenOrphaned } from ${JSON.stringify(join(root, "src/engine/orphan"))};
     setInterval(() => undefined, 1000);
     setTimeout(() => whenOrphaned(() => process.exit(0)), 300);`,
  );
  await build({ entryPoints: [entry], outfile, bundle: true, platform: "node", format: "esm", logLevel: "silent" });
  expect(await endsAlone([outfile])).toBe(true);
});
