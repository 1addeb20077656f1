import { pass } from "@/web/engine";
import { checkedId, route } from "@/web/route";
import { soundQuerySchema } from "@/wire/shot";

/** The sound of some frames, to be played. */
export const GET = route<{ id: string }>((req, { id }) => {
  const { from, to } = soundQuerySchema.parse(Object.fromEntries(new URL(req.url).searchParams));
  return pass(`/takes/${checkedId(id)}/sound?${new URLSearchParams({ from: String(from), to: String(to) })}`);
});
