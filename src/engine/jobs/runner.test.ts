import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it, vi } from "vitest";
import type { RenderJob } from "./kinds/render";
import { KINDS } from "./kinds";
import { readRender } from "./render-spec";
import { Runner } from "./runner";

const dir = mkdtempSync(join(tmpdir(), "umber-runner-"));
const log = join(dir, "log.txt");

/** A process that speaks the protocol and does what its spec says, with a line in the log for its beginning and its end. */
const script = join(dir, "child.mjs");
writeFileSync(
  script,
  `import { appendFileSync } from "node:fs";
const send = (m) => new Promise((r) => process.send(m, undefined, undefined, () => r()));
const note = (t) => appendFileSync(${JSON.stringify(log)}, t + "\\n");
let spec, stopped = false;
process.on("message", async (m) => {
  if (m.say === "stop") { stopped = true; return; }
  spec = m.spec;
  note("begin " + spec.take);
  await send({ say: "progress", done: 1, total: 2 });
  if (spec.take === "dies") process.exit(7);
  for (let i = 0; i < (spec.take.startsWith("slow") ? 6000 : 3) && !stopped; i++) await new Promise((r) => setTimeout(r, 10));
  note("end " + spec.take);
  if (stopped) await send({ say: "failed", error: "It was stopped.", stopped: true });
  else if (spec.take === "bad") await send({ say: "failed", error: "This take cannot be measured.", stopped: false });
  else await send({ say: "result", value: { of: spec.take, data: m.data } });
  process.exit(0);
});
`,
);
const lines = () => readFileSync(log, "utf8").split("\n").filter(Boolean);
const runner = () => {
  writeFileSync(log, "");
  return new Runner(script, "the data folder", () => 1e9);
};
const of = (take: string) => ({ take });

describe("the runner of jobs", () => {
  it("runs a job in a process of its own, tells how far it is, and gives its result", async () => {
    const told: (number | string)[][] = [];
    const watch = { progress: (...p: number[]) => void told.push(p), starts: () => void told.push(["its turn"]) };
    const r = runner();
    const got = await r.run("survey", of("a"), watch);
    expect(got).toEqual({ of: "a", data: "the data folder" });
    expect(told).toEqual([["its turn"], [1, 2]]);
    const later = [r.run("survey", of("b")), r.run("survey", of("c"), watch)];
    expect(told).toHaveLength(2); // it waits for its turn
    await Promise.all(later);
    expect(told).toEqual([["its turn"], [1, 2], ["its turn"], [1, 2]]);
  });

  it("gives up what takes longer than its kind may, and says so; what is in time is left alone", async () => {
    const r = runner();
    const colour = KINDS.colour as { limit?: number };
    const { limit } = colour;
    try {
      colour.limit = 1;
      await expect(r.run("colour", { take: "slow", n: 0, outline: [] })).rejects.toThrow(
        /^The colour could not be taken: it was given up after 1 seconds\. Something in it is too large/,
      );
      expect(lines()).not.toContain("end slow");
      colour.limit = 60;
      await expect(r.run("colour", { take: "quick", n: 0, outline: [] })).resolves.toMatchObject({ of: "quick" });
    } finally {
      colour.limit = limit;
    }
  });

  it("does not begin a second time what is under way, and tells both who wait", async () => {
    const r = runner();
    const told: string[] = [];
    const both = ["x", "y"].map((who) => r.run("survey", of("a"), { progress: () => void told.push(who) }));
    const [one, two] = await Promise.all(both);
    expect(one).toBe(two);
    expect(lines()).toEqual(["begin a", "end a"]);
    expect(told.sort()).toEqual(["x", "y"]);
    await r.run("survey", of("a")); // once it has ended it is a new job
    expect(lines()).toHaveLength(4);
  });

  it("lets those of a lane take turns, the higher priority first, and one of another lane begin at once", async () => {
    const r = runner();
    const jobs = [r.run("survey", of("a")), r.run("survey", of("b")), r.run("survey", of("c"), {}, 5)];
    const now = r.run("align", { shot: "z", take: "z" } as never);
    await Promise.all([...jobs, now]);
    const seen = lines();
    expect(seen.filter((l) => !l.endsWith("z"))).toEqual(["begin a", "end a", "begin c", "end c", "begin b", "end b"]);
    expect(seen.indexOf("begin z")).toBeLessThan(seen.indexOf("begin b"));
  });

  it("ends early only when all who wait have stopped it; what waits for its turn is stopped at once", async () => {
    const r = runner();
    const [a, b, c] = [new AbortController(), new AbortController(), new AbortController()];
    const [x, y] = [a, b].map(({ signal }) => r.run("survey", of("slow"), { signal }));
    // a process takes its time to start: what is stopped before it has begun leaves no trace
    await vi.waitFor(() => expect(lines()).toEqual(["begin slow"]), { timeout: 120_000 });
    const waits = r.run("survey", of("never"), { signal: c.signal });
    c.abort();
    await expect(waits).rejects.toMatchObject({ code: "stopped" });
    a.abort();
    await new Promise((r2) => setTimeout(r2, 30));
    b.abort();
    await expect(x).rejects.toMatchObject({ code: "stopped" });
    await expect(y).rejects.toMatchObject({ code: "stopped" });
    await r.run("survey", of("after"));
    expect(lines()).toEqual(["begin slow", "end slow", "begin after", "end after"]);
  });

  it("says in one sentence what went wrong, also when the process is gone without a word", async () => {
    const r = runner();
    await expect(r.run("survey", of("bad"))).rejects.toThrow("This take cannot be measured.");
    await expect(r.run("survey", of("dies"))).rejects.toThrow("Measuring failed: it ended early (status 7). Try it again.");
  });
});

describe("a stored render", () => {
  const recipe = { format: "umber-moth/recipe" } as unknown as RenderJob["recipe"];
  const common = { recipe, rev: 4, codec: "png", preset: "medium", crf: 18, what: "result", convert: false };
  const layout = { width: 8, height: 6, format: { model: "yuv", bits: 8, subX: 1, subY: 1, alpha: false } };

  it("of an earlier version, with paths of the machine, is read by the names in them", () => {
    const hash = "a".repeat(64);
    const old = {
      ...common,
      takes: { a: { id: "t1", index: "/somewhere/takes/t1/index.json" } },
      pictures: { [hash]: { file: `/somewhere/pictures/${hash}.png` }, "built:x": { raw: "/somewhere/built/b1/picture.raw", ...layout } },
      out: "/somewhere/renders/j/Hall/Hall-####.png",
      cache: "/somewhere/cache",
      cacheLimit: 1e9,
    };
    const now = readRender(JSON.stringify(old), "j", "Hall")!;
    expect(now).toEqual({
      ...common,
      job: "j",
      takes: { a: "t1" },
      pictures: { [hash]: { asset: hash }, "built:x": { built: "b1", ...layout } },
      file: "Hall",
      stills: "Hall-####.png",
    });
    expect(JSON.stringify(now)).not.toContain("/somewhere");
    // and what is written now is read as it is
    expect(readRender(JSON.stringify(now), "j", "Hall")).toEqual(now);
  });

  it("that is damaged is none", () => {
    expect(readRender('{"recipe": {', "j", "f")).toBe(null);
    expect(readRender('{"codec": "png"}', "j", "f")).toBe(null);
  });
});
