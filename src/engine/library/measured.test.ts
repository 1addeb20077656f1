import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { MeasuredHead } from "../../core/measured";
import { openChecked, type OpenDatabase } from "../db/open";
import { type DataPaths, dataPaths } from "../paths";
import { Measured } from "./measured";

const root = new URL("../../..", import.meta.url).pathname;
let open: OpenDatabase;
let measured: Measured;
let paths: DataPaths;
beforeAll(async () => {
  paths = dataPaths(mkdtempSync(join(tmpdir(), "umber-measured-")));
  open = await openChecked(paths, join(root, "drizzle"), Date.now());
  measured = new Measured(open.db, paths);
});
afterAll(() => open.close());

describe("what was measured", () => {
  const head: MeasuredHead = { kind: "track", method: 1, of: "take and region" };
  it("is kept by its content, once, and comes back as it was, with how it was measured", async () => {
    const data = Uint8Array.from([0, 255, 7, 0, 13]);
    const hash = await measured.put(head, data);
    // SHA-256 of these five bytes, by coreutils
    expect(hash).toBe("a45c11514dd3432a8f45f862b77e2ed28d037c2e78abd6c9a8958e5566f9978a");
    expect(await measured.put({ ...head, method: 9 }, data)).toBe(hash);
    expect(await measured.get(hash)).toEqual({ head, data });
  });

  it("is laid down for jobs by its hash, whole", async () => {
    const data = Uint8Array.from({ length: 5000 }, (_, i) => i % 251);
    const hash = await measured.put(head, data);
    await measured.lay([hash, hash]);
    expect(readFileSync(paths.measured(hash)).equals(data)).toBe(true);
  });

  it("that is not there is named, and asking for it says what to do", async () => {
    const there = await measured.put({ ...head, kind: "cutout" }, Uint8Array.of(1));
    expect(await measured.missing([there, "f".repeat(64)])).toEqual(["f".repeat(64)]);
    expect(await measured.missing([])).toEqual([]);
    await expect(measured.get("f".repeat(64))).rejects.toMatchObject({
      code: "missing",
      message: expect.stringContaining("measure it again") as string,
    });
  });
});
