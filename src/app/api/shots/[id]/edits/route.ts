import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { editRequestSchema } from "@/wire/shot";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/edits`, { method: "POST", body: editRequestSchema.parse(await jsonBody(req)) }),
);
