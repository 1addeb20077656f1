import { pass } from "@/server/engine";
import { checkedId, jsonBody, route } from "@/server/route";
import { placeTakeSchema } from "@/wire/media";

/** Where a moved original is now. */
export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/takes/${checkedId(id)}/place`, { method: "POST", body: placeTakeSchema.parse(await jsonBody(req)) }),
);
