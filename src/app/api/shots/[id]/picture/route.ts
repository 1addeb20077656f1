import { engine } from "@/server/engine";
import { checkedId, route } from "@/server/route";
import { PICTURE_HEADER } from "@/wire/layout";
import { pictureQuerySchema } from "@/wire/plate";

/** The planes of a picture that is no frame, one after another. */
export const GET = route<{ id: string }>(async (req, { id }) => {
  const { key } = pictureQuerySchema.parse(Object.fromEntries(new URL(req.url).searchParams));
  const r = await engine(`/shots/${checkedId(id)}/picture?${new URLSearchParams({ key })}`);
  const head = r.headers.get(PICTURE_HEADER);
  return new Response(r.body, {
    status: r.status,
    headers: {
      "content-type": r.headers.get("content-type") ?? "application/json",
      "cache-control": "no-store",
      ...(head ? { [PICTURE_HEADER]: head } : {}),
    },
  });
});
