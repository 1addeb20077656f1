import pino from "pino";
import { compose, takeUp } from "./compose";
import { readConfig } from "./config";
import { answersOf } from "./http/answers";
import { appOf, serve } from "./http/app";
import { beginLife, end } from "./life";
import { openFolder } from "./usecases/opening";

/** How often it is looked whether the day's copy is due, and what nothing uses any more, in milliseconds. */
const ROUND = 3_600_000;

beginLife();
const config = readConfig();
const log = pino({ level: config.logLevel });
const { db, daily } = await openFolder(config, log);
const parts = await compose(config, db, log);
await takeUp(parts, config);
const round = async () => {
  await daily(Date.now());
  await parts.unnamed.clear();
};
setInterval(() => void round().catch((e: unknown) => log.warn(e)), ROUND).unref();
await serve(appOf({ answers: answersOf(parts), secret: config.secret, log, aside: config.aside }), config.socket)
  .then(() => log.info("engine ready"))
  .catch((e: NodeJS.ErrnoException) => {
    log.fatal(e.message);
    return end(1);
  });
