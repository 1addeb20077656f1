import { pass } from "@/server/engine";
import { checkedId, jsonBody, route } from "@/server/route";
import { editRequestSchema } from "@/wire/shot";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/edits`, { method: "POST", body: editRequestSchema.parse(await jsonBody(req)) }),
);
