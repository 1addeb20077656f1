import { mkdir } from "node:fs/promises";
import { basename, join } from "node:path";
import type { Logger } from "pino";
import type { Config } from "../config";
import { openChecked } from "../db/open";
import { serveTrouble } from "../http/trouble";
import { goBackIfAsked } from "../keeping/copies";
import { takeFolder } from "../keeping/lock";
import { InUse, startFailure, StartFailure } from "../keeping/start-failure";
import { beforeEnd, doing, end, IN_USE } from "../life";

/** Takes the data folder and opens what is in it. Where that cannot be, the page is told why, and nothing else happens. */
export async function openFolder({ paths, root, address, aside, secret, socket }: Config, log: Logger) {
  let release = () => undefined as void;
  const started = doing({ key: "start", words: "opening the database" });
  try {
    await mkdir(paths.data, { recursive: true });
    release = await takeFolder(paths.data, address);
    await goBackIfAsked(paths, Date.now());
    const database = await openChecked(paths, join(root, "drizzle"), Date.now(), { check: !aside.some((a) => a.key === "start") });
    beforeEnd(async () => {
      await database.close();
      release();
    });
    return database;
  } catch (e) {
    const why = startFailure(e, basename(paths.data));
    if (why instanceof InUse) {
      process.stderr.write(`${why.message}\n`);
      return end(IN_USE);
    }
    if (!(e instanceof StartFailure)) log.error(e);
    await serveTrouble(why, paths, release, { secret, socket, log });
    return new Promise<never>(() => undefined);
  } finally {
    started();
  }
}
