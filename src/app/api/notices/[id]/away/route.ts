import { pass } from "@/server/engine";
import { checkedId, route } from "@/server/route";

export const POST = route<{ id: string }>((_, { id }) => pass(`/notices/${checkedId(id)}/away`, { method: "POST", body: {} }));
