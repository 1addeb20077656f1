import { pass } from "@/server/engine";
import { checkedId, route } from "@/server/route";

export const GET = route<{ id: string }>((_, { id }) => pass(`/shots/${checkedId(id)}/history`));
