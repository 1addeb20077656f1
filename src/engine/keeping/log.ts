import { open, statfs } from "node:fs/promises";
import { arch, cpus, homedir, platform, release, totalmem } from "node:os";
import type { Log } from "../../wire/keeping";
import { ff } from "../media/arguments";
import { run } from "../media/ffmpeg";
import type { DataPaths } from "../paths";
import { storedJson } from "../stored-json";

/** So much of the end of the log is shown, in bytes. */
const SHOWN = 64_000;
const MOST_LINES = 400;
/** pino's numbers: 40 warns, 50 and 60 are errors. */
const GRAVE = 40;

/** What the program has said last, and what it runs on. Paths of the user's own are shortened. */
export async function readLog(paths: DataPaths, version: string): Promise<Log> {
  const disk = await statfs(paths.data).catch(() => null);
  const gb = (b: number) => `${(b / 1e9).toFixed(1)} GB`;
  return {
    about: [
      { what: "Umber Moth", is: version },
      { what: "Node", is: process.version },
      {
        what: "ffmpeg",
        is: await run("ffmpeg", ff`-version`).then(
          (t) => t.split("\n")[0].replace(/^ffmpeg version (\S+).*/, "$1"),
          () => "not found",
        ),
      },
      { what: "System", is: `${platform()} ${release()}, ${arch()}` },
      { what: "Processors", is: `${cpus().length} × ${cpus()[0]?.model ?? "unknown"}` },
      { what: "Memory", is: `${gb(totalmem())}, of which the engine takes ${gb(process.memoryUsage().rss)}` },
      { what: "Free on the disk", is: disk ? gb(disk.bavail * disk.bsize) : "unknown" },
    ],
    lines: whole(await ending(paths.log)).map(lineOf),
  };
}

/** The last lines of a file; none where there is none. */
async function ending(path: string): Promise<string[]> {
  const fh = await open(path).catch(() => null);
  if (!fh) return [];
  try {
    const { size } = await fh.stat();
    const from = Math.max(0, size - SHOWN);
    const { buffer, bytesRead } = await fh.read(Buffer.alloc(size - from), 0, size - from, from);
    const lines = buffer.toString("utf8", 0, bytesRead).split("\n");
    return (from ? lines.slice(1) : lines).filter(Boolean).slice(-MOST_LINES);
  } finally {
    await fh.close();
  }
}

/** Lines that go on, as those of a stack do, belong to the one before. */
function whole(lines: string[]): string[] {
  const out: string[] = [];
  for (const l of lines)
    if (out.length && /^[\s}\])]/.test(l)) out[out.length - 1] += `\n${l}`;
    else out.push(l);
  return out;
}

function lineOf(line: string): Log["lines"][number] {
  const at = /^(\d{4}-\d\d-\d\dT[\d:.]+Z) /.exec(line);
  const said = line.startsWith("{") ? storedJson<{ time?: number; level?: number; msg?: string; err?: { stack?: string } }>(line) : null;
  const text = said ? (said.err?.stack ?? said.msg ?? line) : at ? line.slice(at[0].length) : line;
  return {
    at: said?.time ?? (at ? Date.parse(at[1]) : null),
    grave: said ? (said.level ?? 0) >= GRAVE : /error|failed|ended/i.test(text),
    text: text.replaceAll(homedir(), "~"),
  };
}
