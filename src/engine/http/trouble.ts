import type { Logger } from "pino";
import { copies, goBackTo } from "../keeping/copies";
import type { StartFailure } from "../keeping/start-failure";
import { beforeEnd, end } from "../life";
import type { DataPaths } from "../paths";
import { appOf, serve } from "./app";
import { ANSWER_LEAVES } from "./keeping";

/**
 * The program cannot work on its data: the page says why, in the sentence the terminal said it in, and offers the kept copies.
 * Nothing else is answered, and nothing is tried again by itself.
 */
export async function serveTrouble(why: StartFailure, paths: DataPaths, release: () => void, to: { secret: Buffer; socket: string; log: Logger }) {
  process.stderr.write(`${why.message}\n`);
  beforeEnd(() => Promise.resolve(release()));
  const app = appOf({
    ...to,
    trouble: why,
    answers: {
      copies: async () => ({ copies: await copies(paths), trouble: why.message }),
      async goBack({ body }) {
        await goBackTo(paths, body.name, Date.now());
        setTimeout(() => void end(0), ANSWER_LEAVES); // the launcher starts us again, on the copy
        return {};
      },
    },
  });
  await serve(app, to.socket);
}
