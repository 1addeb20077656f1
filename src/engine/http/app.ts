import { createAdaptorServer } from "@hono/node-server";
import { Hono } from "hono";
import { bodyLimit } from "hono/body-limit";
import { createHash, timingSafeEqual } from "node:crypto";
import { rm } from "node:fs/promises";
import type { Logger } from "pino";
import { UserError } from "../../core/user-error";
import type { Endpoint } from "../../wire/endpoint";
import { ENDPOINTS, type EndpointName } from "../../wire/endpoints";
import { errorAnswer, userErrorOf } from "../../wire/errors";
import { SECRET_HEADER } from "../../wire/layout";
import { type Doing, doing } from "../life";
import { MediaError } from "../media/media-error";
import type { Answers } from "./answer";

/** Largest body of a request, in bytes: an edit with some hundred thousand points. */
const MOST = 64e6;
const BUG = "Something failed in the engine; nothing that was stored is lost. The messages on the terminal say what it was.";
const ASIDE = "This was set aside, since the program stopped answering on it: end it and start it again to try this once more.";

interface Serving {
  answers: Partial<Answers>;
  secret: Buffer;
  log: Logger;
  /** Requests the engine hung on before: they are left alone. */
  aside?: Doing[];
  /** Why nothing else is answered. */
  trouble?: UserError;
}

const told = (e: UserError): Response => {
  const { status, body } = errorAnswer(e);
  return Response.json(body, { status });
};

function allowed(given: string | undefined, secret: Buffer): boolean {
  const bytes = Buffer.from(given ?? "");
  return bytes.length === secret.length && timingSafeEqual(bytes, secret);
}

/** Answers the table's endpoints to the web process, and only to it. What goes wrong becomes one sentence; a fault of ours goes to the log and not to the page. */
export function appOf({ answers, secret, log, aside = [], trouble }: Serving): Hono {
  const app = new Hono();
  app.onError((e) => {
    const known = userErrorOf(e);
    if (known) return told(known);
    log.error(e);
    return Response.json({ error: BUG }, { status: 500 });
  });
  app.notFound(() => told(trouble ?? new UserError("missing", "There is nothing here.")));
  app.use(async (c, next) => {
    if (!allowed(c.req.header(SECRET_HEADER), secret)) throw new UserError("forbidden", "Only the web process may talk to the engine.");
    await next();
  });
  app.use(
    bodyLimit({
      maxSize: MOST,
      onError: () => {
        throw new UserError("too-large", `The request is larger than ${MOST / 1e6} MB.`);
      },
    }),
  );
  for (const [name, answer] of Object.entries(answers) as [EndpointName, (asked: object) => Promise<unknown>][]) {
    const e: Endpoint = ENDPOINTS[name];
    app.on(e.method, e.path, async (c) => {
      const sent = e.method === "POST" ? Buffer.from(await c.req.arrayBuffer()) : Buffer.alloc(0);
      const { pathname, search } = new URL(c.req.url);
      const hash = e.method === "POST" ? createHash("sha256").update(sent).digest("hex").slice(0, 16) : "";
      const key = `${e.method} ${pathname}${search.slice(0, 200)} ${hash}`;
      if (aside.some((a) => a.key === key)) throw new MediaError(ASIDE);
      const body = e.body?.parse(sent.length ? JSON.parse(sent.toString()) : {});
      const query = e.query?.parse(c.req.query());
      const ended = doing({ key, words: `answering ${e.method} ${pathname}` });
      try {
        const value = await answer({ params: c.req.param(), query, body });
        return value instanceof Response ? value : Response.json(value);
      } finally {
        ended();
      }
    });
  }
  return app;
}

/** Listens for the web process of this machine. @throws Error with the system's code where the socket cannot be opened */
export async function serve(app: Hono, socket: string): Promise<void> {
  await rm(socket, { force: true }); // of an engine that was killed
  const server = createAdaptorServer({ fetch: app.fetch });
  await new Promise<void>((resolve, reject) => {
    server.once("error", reject);
    server.listen(socket, resolve);
  });
}
