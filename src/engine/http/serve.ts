import { createHash, timingSafeEqual } from "node:crypto";
import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http";
import type { Logger } from "pino";
import { z } from "zod";
import { SECRET_HEADER } from "../../wire/layout";
import { StartFailure } from "../keeping/start-failure";
import { Broken, NotFound, NotYet, Stale } from "../db/documents";
import { isMeant, MediaError } from "../media/media-error";
import { NoSuchName } from "../paths";
import { type Doing, doing } from "../life";
import type { Route } from "./route";

/** Largest body of a request, in bytes: an edit with some hundred thousand points. */
const MOST = 64e6;

interface Serving {
  routes: Route[];
  secret: Buffer;
  port: number;
  log: Logger;
  /** Requests the engine hung on before: they are left alone. */
  aside?: Doing[];
  /** The answer to everything that no route knows. */
  otherwise?: { status: number; value: object };
}

class TooLarge extends Error {}

async function readBody(req: IncomingMessage): Promise<{ body: unknown; hash: string }> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const c of req as AsyncIterable<Buffer>) {
    size += c.length;
    if (size > MOST) throw new TooLarge(`The request is larger than ${MOST / 1e6} MB.`);
    parts.push(c);
  }
  const all = Buffer.concat(parts);
  return { body: size ? (JSON.parse(all.toString()) as unknown) : {}, hash: createHash("sha256").update(all).digest("hex").slice(0, 16) };
}

function allowed(req: IncomingMessage, secret: Buffer): boolean {
  const given = Buffer.from(String(req.headers[SECRET_HEADER] ?? ""));
  return given.length === secret.length && timingSafeEqual(given, secret);
}

const json = (res: ServerResponse, status: number, value: unknown) =>
  void res.writeHead(status, { "content-type": "application/json" }).end(JSON.stringify(value));

/** Whether a full disk is behind an error, of the file system or the database. */
function isFull(e: unknown): boolean {
  for (let x = e; x instanceof Error; x = x.cause)
    if (/SQLITE_FULL|disk is full|ENOSPC/i.test(`${(x as NodeJS.ErrnoException).code ?? ""} ${x.message}`)) return true;
  return false;
}

/** Answers the web process, and only it. What goes wrong becomes one sentence; what is a fault of ours goes to the log and not to the page. */
export function serve({ routes, secret, port, log, aside = [], otherwise }: Serving): Promise<Server> {
  const handle = async (req: IncomingMessage, res: ServerResponse) => {
    if (!allowed(req, secret)) return json(res, 403, { error: "Only the web process may talk to the engine." });
    const url = new URL(req.url ?? "/", "http://engine");
    const route = routes.find(([m, re]) => m === req.method && re.test(url.pathname));
    if (!route) return json(res, otherwise?.status ?? 404, otherwise?.value ?? { error: "There is nothing here." });
    const params = route[1].exec(url.pathname)!.slice(1);
    const { body, hash } = req.method === "POST" ? await readBody(req) : { body: undefined, hash: "" };
    const key = `${req.method} ${url.pathname}${url.search.slice(0, 200)} ${hash}`;
    if (aside.some((a) => a.key === key))
      throw new MediaError("This was set aside, since the program stopped answering on it: end it and start it again to try this once more.");
    const ended = doing({ key, words: `answering ${req.method} ${url.pathname}` });
    try {
      const value = await route[2]({ params, body, query: url.searchParams, res });
      if (value !== undefined) json(res, 200, value);
    } finally {
      ended();
    }
  };
  const fail = (e: unknown, res: ServerResponse) => {
    if (res.headersSent) return void res.destroy();
    if (e instanceof Stale) return json(res, 409, { error: e.message, rev: e.rev, since: e.since });
    if (e instanceof NotFound || e instanceof NoSuchName) return json(res, 404, { error: e.message });
    if (e instanceof NotYet) return json(res, 425, { error: e.message });
    if (e instanceof TooLarge) return json(res, 413, { error: e.message });
    if (e instanceof SyntaxError) return json(res, 400, { error: "The request is not JSON." });
    if (e instanceof z.ZodError)
      return json(res, 400, { error: `The request is not valid: ${e.issues[0].path.join(".") || "body"}: ${e.issues[0].message}.` });
    if (isMeant(e) || e instanceof Broken || e instanceof StartFailure) return json(res, 422, { error: e.message });
    if (isFull(e))
      return json(res, 507, { error: "The disk is full, so this was not stored: make room, then do it again; everything before it is there." });
    log.error(e);
    json(res, 500, { error: "Something failed in the engine; nothing that was stored is lost. The messages on the terminal say what it was." });
  };
  const server = createServer((req, res) => void handle(req, res).catch((e: unknown) => fail(e, res)));
  return new Promise((resolve, reject) => {
    server.once("error", reject);
    server.listen(port, "127.0.0.1", () => resolve(server));
  });
}
