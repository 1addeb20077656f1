import { rename, rm } from "node:fs/promises";
import { basename, dirname, join } from "node:path";
import { type Arguments, ff, file } from "../media/arguments";
import { ended, patiently, start } from "../media/ffmpeg";

/** Gives a written film the flag by which players turn it: a copy of its streams, since an encoder takes none along. */
export async function flagTurned(out: string, flag: Arguments): Promise<void> {
  const part = join(dirname(out), `.${process.pid}.turned.${basename(out)}`);
  const what = `Flagging “${basename(out)}”`;
  const child = start(ff`-y -i ${file(out)} -map 0:v:0 -map 0:a? -c copy ${flag} ${file(part)}`, "ignore");
  try {
    await patiently(child, what, ended(child, what), 20);
    await rename(part, out);
  } catch (e) {
    child.kill("SIGKILL");
    await rm(part, { force: true });
    throw e;
  }
}
