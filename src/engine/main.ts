import pino from "pino";
import { compose, takeUp } from "./compose";
import { readConfig } from "./config";
import { answersOf } from "./http/answers";
import { appOf, serve } from "./http/app";
import { beginLife, end } from "./life";
import { openFolder } from "./usecases/opening";

/** How often it is looked whether the day's copy is due, in milliseconds. */
const COPY_ROUND = 3_600_000;

beginLife();
const config = readConfig();
const log = pino({ level: config.logLevel });
const { db, daily } = await openFolder(config, log);
setInterval(() => void daily(Date.now()).catch((e: unknown) => log.warn(e)), COPY_ROUND).unref();
const parts = await compose(config, db, log);
await takeUp(parts, config);
await serve(appOf({ answers: answersOf(parts), secret: config.secret, log, aside: config.aside }), config.port)
  .then(() => log.info("engine ready"))
  .catch((e: NodeJS.ErrnoException) => {
    log.fatal(e.code === "EADDRINUSE" ? "The engine's port is taken." : e.message);
    return end(1);
  });
