import { pass } from "@/server/engine";
import { checkedId, route } from "@/server/route";
import { buildRequestSchema } from "@/wire/plate";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/build`, { method: "POST", body: buildRequestSchema.parse(await req.json()) }),
);
