import { checkedId, route } from "@/web/route";
import { received } from "@/web/upload";

/** How much of a film has arrived. */
export const GET = route<{ id: string }>((_, { id }) => received(checkedId(id)));
