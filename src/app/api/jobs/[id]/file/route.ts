import { downloadRender } from "@/web/download";
import { checkedId, route } from "@/web/route";

export const GET = route<{ id: string }>((_, { id }) => downloadRender(checkedId(id)));
