import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { alignRequestSchema } from "@/wire/plate";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/align`, { method: "POST", body: alignRequestSchema.parse(await jsonBody(req)) }),
);
