import { pass } from "@/server/engine";
import { checkedId, route } from "@/server/route";

export const POST = route<{ id: string }>((_, { id }) => pass(`/doing/${checkedId(id)}/stop`, { method: "POST", body: {} }));
