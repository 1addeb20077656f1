import { downloadRecipe } from "@/server/download";
import { checkedId, route } from "@/server/route";

export const GET = route<{ id: string }>((_, { id }) => downloadRecipe(checkedId(id)));
