import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { takeTurnSchema } from "@/wire/take";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/takes/${checkedId(id)}/turn`, { method: "POST", body: takeTurnSchema.parse(await jsonBody(req)) }),
);
