import { existsSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { describe, expect, it } from "vitest";
import { notice, shipped } from "../../scripts/notice";

const root = new URL("../..", import.meta.url).pathname;
const read = (file: string) => JSON.parse(readFileSync(file, "utf8")) as { name: string; version: string; dependencies?: Record<string, string> };

/** The libraries a package needs, as Node would find them: in its own folder or one above. Nothing of it is read from the lock file. */
function needed(folder: string, found = new Set<string>()): Set<string> {
  const { dependencies = {} } = read(join(folder, "package.json"));
  for (const name of Object.keys(dependencies)) {
    let at = folder;
    while (!existsSync(join(at, "node_modules", name, "package.json")) && at !== dirname(at)) at = dirname(at);
    const place = join(at, "node_modules", name);
    const own = read(join(place, "package.json"));
    const key = `${own.name} ${own.version}`;
    if (found.has(key)) continue;
    found.add(key);
    needed(place, found);
  }
  return found;
}

describe("NOTICE", () => {
  const text = readFileSync(join(root, "NOTICE"), "utf8");

  it("is what the libraries say today: npm run notice", () => {
    expect(text).toBe(notice(shipped()));
  });

  it("names every library that is needed to run, found by walking through them, and the licence of each", () => {
    const all = needed(root);
    expect(all.size).toBeGreaterThan(60);
    const lines = text.split("\n");
    expect([...all].filter((k) => !lines.some((l) => l.startsWith(`${k}: `) && l.length > k.length + 3))).toEqual([]);
    expect(text).not.toMatch(/: not said$/m);
  });
});
