import { statfs } from "node:fs/promises";
import { tmpdir } from "node:os";
import { describe, expect, it } from "vitest";
import { UserError } from "../core/user-error";
import { assertRoom } from "./room";

describe("room for what is taken in", () => {
  it("is asked before: a file larger than the disk is refused with both figures, a small one is not", async () => {
    const disk = await statfs(tmpdir());
    const free = disk.bavail * disk.bsize;
    await expect(assertRoom("small.mp4", 1000, tmpdir())).resolves.toBeUndefined();
    await expect(assertRoom("unknown.mp4", null, tmpdir())).resolves.toBeUndefined();
    const refused = assertRoom("huge.mov", free + 1e12, tmpdir());
    await expect(refused).rejects.toThrow(/^The disk is full: “huge\.mov” needs [\d.]+ GB and there are [\d.]+ [GM]B to spare; make room/);
    await expect(refused).rejects.toBeInstanceOf(UserError);
  });
});
