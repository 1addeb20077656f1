import { Agent, request } from "node:http";
import { Readable } from "node:stream";
import { UserError, type ErrorCode } from "@/core/user-error";
import { addressOf, type AnswerOf, type Endpoint, type Params } from "@/wire/endpoint";
import { errorSchema } from "@/wire/errors";
import { MEASURED_HEADER, NAME_HEADER, PICTURE_HEADER, SECRET_HEADER } from "@/wire/layout";

/** The engine cannot be reached: it is being started again, or has failed. */
export class EngineAway extends UserError {
  constructor() {
    super("away", "The engine is not answering at the moment; it is started again by itself, try once more in a second.");
  }
}

/** Whether a connection that was kept open had been closed by the other side, before it heard the request. */
const wasClosed = (e: unknown) => e instanceof Error && /ECONNRESET|EPIPE/.test(String((e as NodeJS.ErrnoException).code));

interface Asked {
  query?: Record<string, string | number | undefined>;
  body?: unknown;
  signal?: AbortSignal;
}

/** A request to the engine process on this machine; repeated once on a new connection where a kept one had been closed. */
export async function engine<P extends string>(e: { method: Endpoint["method"]; path: P }, params: Params<P>, asked: Asked = {}): Promise<Response> {
  const path = addressOf(e, params, asked.query);
  try {
    return await ask(e.method, path, asked).catch((x: unknown) => {
      if (!wasClosed(x) || asked.signal?.aborted) throw x;
      return ask(e.method, path, asked);
    });
  } catch (x) {
    if (asked.signal?.aborted) throw x;
    throw new EngineAway();
  }
}

const agent = new Agent({ keepAlive: true });

/** One request. It may take as long as it takes: whoever waits can leave off by its signal. */
function ask(method: Endpoint["method"], path: string, { body, signal }: Asked): Promise<Response> {
  const sent = method === "POST" ? JSON.stringify(body ?? {}) : undefined;
  const headers = {
    [SECRET_HEADER]: process.env.UMBER_ENGINE_SECRET ?? "",
    ...(sent === undefined ? {} : { "content-type": "application/json", "content-length": Buffer.byteLength(sent) }),
  };
  return new Promise((done, failed) => {
    const r = request({ socketPath: process.env.UMBER_ENGINE_SOCKET, path, method, headers, agent, signal }, (answer) => {
      const status = answer.statusCode ?? 500;
      const kept = Object.entries(answer.headers).flatMap(([k, v]) => (typeof v === "string" ? [[k, v] as [string, string]] : []));
      const empty = status === 204 || status === 304;
      if (empty) answer.resume();
      done(new Response(empty ? null : (Readable.toWeb(answer) as ReadableStream<Uint8Array>), { status, headers: kept }));
    });
    r.on("error", failed);
    r.end(sent);
  });
}

/** The engine's answer as it was meant. @throws UserError with what the engine says is wrong */
export async function answered<P extends string, E extends Endpoint<P>>(
  e: E & { path: P },
  params: Params<P>,
  asked: Asked = {},
): Promise<AnswerOf<E>> {
  const r = await engine(e, params, asked);
  const value = (await r.json()) as unknown;
  if (r.ok) return e.answer!.parse(value) as AnswerOf<E>;
  const { error, code, ...data } = errorSchema.parse(value);
  throw new UserError((code ?? "refused") as ErrorCode, error, data);
}

/** Hands the engine's answer on as it is: what it is, how a file of it is called, what its samples are. */
export function passOn(r: Response): Response {
  const name = r.headers.get(NAME_HEADER);
  const picture = r.headers.get(PICTURE_HEADER);
  const measured = r.headers.get(MEASURED_HEADER);
  return new Response(r.body, {
    status: r.status,
    headers: {
      "content-type": r.headers.get("content-type") ?? "application/json",
      "cache-control": "no-store",
      ...(name ? { "content-disposition": `attachment; filename*=UTF-8''${name}` } : {}),
      ...(picture ? { [PICTURE_HEADER]: picture } : {}),
      ...(measured ? { [MEASURED_HEADER]: measured } : {}),
    },
  });
}
