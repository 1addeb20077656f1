import { pass } from "@/web/engine";
import { checkedId, jsonBody, route } from "@/web/route";
import { outsideEndSchema, outsideRequestSchema } from "@/wire/plate";

export const GET = route<{ id: string }>((req, { id }) => {
  const { plate } = outsideEndSchema.parse(Object.fromEntries(new URL(req.url).searchParams));
  return pass(`/shots/${checkedId(id)}/outside?${new URLSearchParams({ plate })}`);
});

export const POST = route<{ id: string }>(async (req, { id }) =>
  pass(`/shots/${checkedId(id)}/outside`, { method: "POST", body: outsideRequestSchema.parse(await jsonBody(req)) }),
);
