import { describe, expect, it } from "vitest";
import { nextVersion, pictureName, writtenName } from "./names";

describe("names of what is written", () => {
  it("say the shot, what it is, and of a picture its frame", () => {
    expect(writtenName("Ticket hall / 2", "mended")).toBe("Ticket-hall-2-mended");
    expect(writtenName("…", "matte")).toBe("shot-matte");
    expect(pictureName("Ticket hall", "mended", 50)).toBe("Ticket-hall-mended-0050");
  });

  it("are versions: the first plain, each later one beyond the highest there is, whatever its ending", () => {
    expect(nextVersion("a-mended", [])).toBe("a-mended");
    expect(nextVersion("a-mended", ["a-matte.mov", "a-mended-late.mp4", "b-mended.mp4"])).toBe("a-mended");
    expect(nextVersion("a-mended", ["a-mended.mp4"])).toBe("a-mended-v2");
    expect(nextVersion("a-mended", ["a-mended.mp4", "a-mended-v7.mov", "a-mended-v2"])).toBe("a-mended-v8");
  });
});
