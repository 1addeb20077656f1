import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { stepRequestSchema } from "@/wire/shot";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/steps`, { method: "POST", body: stepRequestSchema.parse(await jsonBody(req)) }),
);
