import { downloadRecipe } from "@/web/download";
import { checkedId, route } from "@/web/route";

export const GET = route<{ id: string }>((_, { id }) => downloadRecipe(checkedId(id)));
