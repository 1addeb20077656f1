import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { placeTakeSchema } from "@/wire/media";

/** Where a moved original is now. */
export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/takes/${checkedId(id)}/place`, { method: "POST", body: placeTakeSchema.parse(await jsonBody(req)) }),
);
