import { UserError } from "@/core/user-error";
import { errorAnswer, userErrorOf } from "@/wire/errors";
import { hashSchema, idSchema } from "@/wire/ids";
import { hasEntered, isExposed } from "./entry";

const LOOPBACK = ["127.0.0.1", "localhost", "[::1]"];

/**
 * Whether a request was sent to this machine by a loopback name, and not by another name that leads here. Opened beyond the
 * machine, any name may lead here, and the passphrase decides.
 */
export const fromThisMachine = (req: Request): boolean => isExposed() || LOOPBACK.includes((req.headers.get("host") ?? "").replace(/:\d+$/, ""));

/** Whether a request comes from our own page: its Host is ours and its Origin, if any, the same. */
export function fromOurPage(req: Request): boolean {
  if (!fromThisMachine(req)) return false;
  const origin = req.headers.get("origin");
  // a browser names where a request that changes something comes from; what names nothing is no page of ours
  if (!origin && req.method !== "GET" && req.method !== "HEAD") return false;
  // behind a proxy that adds TLS the page's address begins with https
  if (origin && origin.replace(/^https?:/, "") !== `//${req.headers.get("host")}`) return false;
  const site = req.headers.get("sec-fetch-site");
  return site === null || site === "same-origin" || site === "none";
}

function checked(name: typeof idSchema, text: string): string {
  const r = name.safeParse(text);
  if (!r.success) throw new UserError("missing", "There is nothing here.");
  return r.data;
}

/** A route's id parameter, or a refusal: nothing else reaches the file system. */
export const checkedId = (id: string): string => checked(idSchema, id);

/** A route's hash, or a refusal. */
export const checkedHash = (hash: string): string => checked(hashSchema, hash);

export function checkedNumber(text: string): number {
  if (!/^\d{1,9}$/.test(text)) throw new UserError("missing", "There is nothing here.");
  return Number(text);
}

/** Largest body of a request that is no file, in bytes: what the engine takes. */
const MOST = 64e6;

/** A request's body as JSON, read no further than it may be long. */
export async function jsonBody(req: Request): Promise<unknown> {
  const long = new UserError("too-large", `The request is larger than ${MOST / 1e6} MB.`);
  if (Number(req.headers.get("content-length") ?? 0) > MOST) throw long;
  const parts: Uint8Array[] = [];
  let size = 0;
  for await (const part of (req.body ?? []) as AsyncIterable<Uint8Array>) {
    size += part.length;
    if (size > MOST) throw long;
    parts.push(part);
  }
  return JSON.parse(Buffer.concat(parts).toString()) as unknown;
}

const BUG = "Something failed in the pages' process; nothing that was stored is lost. The messages on the terminal say what it was.";

type Params = Record<string, string | string[]>;

/** Wraps every route handler: Host, Origin and, beyond this machine, the passphrase are checked; errors become one sentence. */
export function route<P extends Params = Record<string, string>>(handler: (req: Request, params: P) => Promise<Response>, { open = false } = {}) {
  return async (req: Request, context: { params: Promise<P> }): Promise<Response> => {
    const failed = (e: UserError) => {
      const { status, body } = errorAnswer(e);
      return Response.json(body, { status, headers: { "cache-control": "no-store" } });
    };
    if (!fromOurPage(req)) return failed(new UserError("forbidden", "This address is not allowed to use Umber Moth."));
    if (isExposed() && !open && !hasEntered(req))
      return failed(new UserError("unknown", "Give the passphrase first: open the first page of Umber Moth."));
    try {
      return await handler(req, await context.params);
    } catch (e) {
      const known = userErrorOf(e);
      if (known) return failed(known);
      process.stderr.write(`${e instanceof Error ? e.stack : String(e)}\n`);
      return Response.json({ error: BUG }, { status: 500, headers: { "cache-control": "no-store" } });
    }
  };
}
