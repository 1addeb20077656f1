import type { Logger } from "pino";
import { goBackSchema } from "../../wire/shot";
import { copies, goBackTo } from "../keeping/copies";
import type { StartFailure } from "../keeping/start-failure";
import type { DataPaths } from "../paths";
import { beforeEnd, end } from "../life";
import { serve } from "./serve";

/**
 * The program cannot work on its data: the page says why, in the sentence the terminal said it in, and offers the kept copies.
 * Nothing else is answered, and nothing is tried again by itself.
 */
export async function serveTrouble(why: StartFailure, paths: DataPaths, release: () => void, to: { secret: Buffer; port: number; log: Logger }) {
  process.stderr.write(`${why.message}\n`);
  beforeEnd(() => Promise.resolve(release()));
  await serve({
    ...to,
    routes: [
      ["GET", /^\/copies$/, async () => ({ copies: await copies(paths), trouble: why.message })],
      [
        "POST",
        /^\/copies\/back$/,
        async ({ body }) => {
          await goBackTo(paths, goBackSchema.parse(body).name, Date.now());
          setTimeout(() => void end(0), 100); // the launcher starts us again, on the copy
          return {};
        },
      ],
    ],
    otherwise: { status: 503, value: { error: why.message, trouble: true } },
  });
}
