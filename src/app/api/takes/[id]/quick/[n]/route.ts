import { quickFrame } from "@/web/pictures";
import { checkedId, checkedNumber, Refusal, route } from "@/web/route";

export const GET = route<{ id: string; n: string }>(async (_, p) => {
  const bytes = await quickFrame(checkedId(p.id), checkedNumber(p.n));
  if (!bytes) throw new Refusal(404, "This quick frame is not made yet.");
  return new Response(bytes, { headers: { "content-type": "image/jpeg", "cache-control": "private, max-age=31536000, immutable" } });
});
