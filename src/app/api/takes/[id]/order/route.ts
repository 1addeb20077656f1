import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { orderRequestSchema } from "@/wire/shot";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/takes/${checkedId(id)}/order`, { method: "POST", body: orderRequestSchema.parse(await jsonBody(req)) }),
);
