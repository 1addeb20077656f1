import { pass } from "@/web/engine";
import { checkedId, route } from "@/web/route";

/** The shot that could be joined on. */
export const GET = route<{ id: string }>((_, { id }) => pass(`/shots/${checkedId(id)}/join`));
export const POST = route<{ id: string }>((_, { id }) => pass(`/shots/${checkedId(id)}/join`, { method: "POST", body: {} }));
