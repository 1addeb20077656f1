import { PICTURE_HEADER } from "../wire/layout";
import { engine } from "./engine";

/** Passes on the engine's answer: samples, with a header that says what they are. */
export async function passPicture(path: string): Promise<Response> {
  const r = await engine(path);
  const head = r.headers.get(PICTURE_HEADER);
  return new Response(r.body, {
    status: r.status,
    headers: {
      "content-type": r.headers.get("content-type") ?? "application/json",
      "cache-control": "no-store",
      ...(head ? { [PICTURE_HEADER]: head } : {}),
    },
  });
}
