import { pass } from "@/web/engine";
import { checkedId, route } from "@/web/route";

export const POST = route<{ id: string }>((_, { id }) => pass(`/productions/${checkedId(id)}/remove`, { method: "POST", body: {} }));
