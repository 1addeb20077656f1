import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { renderRequestSchema } from "@/wire/shot";

export const GET = route<{ id: string }>((_, { id }) => pass(`/shots/${checkedId(id)}/renders`));
export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/renders`, { method: "POST", body: renderRequestSchema.parse(await jsonBody(req)) }),
);
