import { receiveTake } from "@/server/upload";
import { route } from "@/server/route";

/** The body is the file itself; it is streamed to disk. */
export const POST = route(receiveTake);
