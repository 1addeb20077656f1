import { UserError } from "@/core/user-error";
import { quickFrame } from "@/web/pictures";
import { checkedId, checkedNumber, route } from "@/web/route";

export const GET = route<{ id: string; n: string }>(async (_, p) => {
  const bytes = await quickFrame(checkedId(p.id), checkedNumber(p.n));
  if (!bytes) throw new UserError("missing", "This quick frame is not made yet.");
  return new Response(bytes, { headers: { "content-type": "image/jpeg", "cache-control": "private, max-age=31536000, immutable" } });
});
