import { pass } from "@/web/engine";
import { checkedId, route } from "@/web/route";

export const GET = route<{ id: string }>((_, { id }) => pass(`/shots/${checkedId(id)}/history`));
