import { pass } from "@/server/engine";
import { checkedId, jsonBody, route } from "@/server/route";
import { renderRequestSchema } from "@/wire/shot";

export const GET = route<{ id: string }>((_, { id }) => pass(`/shots/${checkedId(id)}/renders`));
export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/renders`, { method: "POST", body: renderRequestSchema.parse(await jsonBody(req)) }),
);
