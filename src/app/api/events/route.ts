import { engine } from "@/web/engine";
import { ENDPOINTS } from "@/wire/endpoints";
import { route } from "@/web/route";

/** The one stream of events that every tab listens to. */
export const GET = route(async (req) => {
  const r = await engine(ENDPOINTS.events, {}, { signal: req.signal });
  return new Response(r.body, {
    status: r.status,
    headers: { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" },
  });
});
