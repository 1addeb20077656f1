import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { findRequestSchema } from "@/wire/plate";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/find`, { method: "POST", body: findRequestSchema.parse(await jsonBody(req)) }),
);
