import { join } from "node:path";

/** Largest log file, and how many older ones are kept beside it. */
const SIZE = "4M";
const KEPT = 4;

/**
 * What the program says, kept in the data folder's “log”: a file that begins anew when it has grown, so that it never fills the disk.
 * Where it cannot be written the program runs on without it.
 * @returns takes what was said, text or bytes
 */
export async function openLog(data) {
  const { createStream } = await import("rotating-file-stream");
  const stream = createStream((n) => (n ? `umber-${n}.log` : "umber.log"), { path: join(data, "log"), size: SIZE, rotate: KEPT, mode: 0o600 });
  let works = true;
  stream.on("error", () => (works = false));
  return (said) => void (works && stream.write(said));
}
