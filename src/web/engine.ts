import { SECRET_HEADER } from "@/wire/layout";

/** The engine cannot be reached: it is being started again, or has failed. */
export class EngineAway extends Error {
  constructor() {
    super("The engine is not answering at the moment; it is started again by itself, try once more in a second.");
  }
}

/** Whether a connection that was kept open had been closed by the other side, before it heard the request. */
const wasClosed = (e: unknown) =>
  e instanceof Error && /UND_ERR_SOCKET|ECONNRESET|EPIPE/.test(String((e.cause as NodeJS.ErrnoException | undefined)?.code));

/** A request to the engine process on this machine; repeated once on a new connection where a kept one had been closed. */
export async function engine(path: string, init: Asked = {}): Promise<Response> {
  try {
    return await ask(path, init).catch((e: unknown) => {
      if (!wasClosed(e) || init.signal?.aborted) throw e;
      return ask(path, init);
    });
  } catch (e) {
    if (init.signal?.aborted) throw e;
    throw new EngineAway();
  }
}

interface Asked {
  method?: "GET" | "POST";
  body?: unknown;
  signal?: AbortSignal;
}

const ask = (path: string, init: Asked) =>
  fetch(`http://127.0.0.1:${process.env.UMBER_ENGINE_PORT}${path}`, {
    method: init.method ?? "GET",
    headers: { [SECRET_HEADER]: process.env.UMBER_ENGINE_SECRET ?? "", ...(init.body === undefined ? {} : { "content-type": "application/json" }) },
    body: init.body === undefined ? undefined : JSON.stringify(init.body),
    signal: init.signal,
    cache: "no-store",
  });

/** Hands the engine's answer on as it is. */
export async function pass(path: string, init: Parameters<typeof engine>[1] = {}): Promise<Response> {
  const r = await engine(path, init);
  return new Response(r.body, {
    status: r.status,
    headers: { "content-type": r.headers.get("content-type") ?? "application/json", "cache-control": "no-store" },
  });
}
