import { pass } from "@/web/engine";
import { checkedId, route } from "@/web/route";

export const POST = route<{ id: string }>((_, { id }) => pass(`/notices/${checkedId(id)}/away`, { method: "POST", body: {} }));
