import { exactFrame } from "@/web/pictures";
import { checkedId, checkedNumber, route } from "@/web/route";

export const GET = route<{ id: string; n: string }>(async (_, p) => {
  const bytes = await exactFrame(checkedId(p.id), checkedNumber(p.n));
  return new Response(bytes, { headers: { "content-type": "application/octet-stream", "cache-control": "no-store" } });
});
