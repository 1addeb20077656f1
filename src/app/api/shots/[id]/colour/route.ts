import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { colourRequestSchema } from "@/wire/plate";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/colour`, { method: "POST", body: colourRequestSchema.parse(await jsonBody(req)) }),
);
