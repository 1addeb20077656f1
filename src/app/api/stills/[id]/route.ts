import { checkedId, route } from "@/web/route";
import { receiveStill } from "@/web/upload";

/** One still of a take of numbered stills; the body is the file itself. */
export const POST = route<{ id: string }>((req, { id }) => receiveStill(req, checkedId(id)));
