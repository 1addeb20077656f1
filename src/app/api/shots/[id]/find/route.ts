import { pass } from "@/server/engine";
import { checkedId, jsonBody, route } from "@/server/route";
import { findRequestSchema } from "@/wire/plate";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/find`, { method: "POST", body: findRequestSchema.parse(await jsonBody(req)) }),
);
