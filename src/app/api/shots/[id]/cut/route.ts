import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { cutRequestSchema } from "@/wire/shot";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/cut`, { method: "POST", body: cutRequestSchema.parse(await jsonBody(req)) }),
);
