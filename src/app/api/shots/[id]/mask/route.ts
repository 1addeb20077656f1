import { passPicture } from "@/web/pass-picture";
import { checkedId, route } from "@/web/route";
import { maskQuerySchema } from "@/wire/plate";

/** The values of a picture as a mask, 64-bit floats row by row. */
export const GET = route<{ id: string }>((req, { id }) => {
  const q = maskQuerySchema.parse(Object.fromEntries(new URL(req.url).searchParams));
  return passPicture(`/shots/${checkedId(id)}/mask?${new URLSearchParams(q)}`);
});
