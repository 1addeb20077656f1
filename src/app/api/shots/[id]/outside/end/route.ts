import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { outsideEndSchema } from "@/wire/plate";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/outside/end`, { method: "POST", body: outsideEndSchema.parse(await jsonBody(req)) }),
);
