import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { buildRequestSchema } from "@/wire/plate";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/build`, { method: "POST", body: buildRequestSchema.parse(await jsonBody(req)) }),
);
