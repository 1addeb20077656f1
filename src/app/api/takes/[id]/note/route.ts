import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { takeNoteSchema } from "@/wire/take";

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/takes/${checkedId(id)}/note`, { method: "POST", body: takeNoteSchema.parse(await jsonBody(req)) }),
);
