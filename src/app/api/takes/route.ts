import { receiveTake } from "@/web/upload";
import { route } from "@/web/route";

/** The body is the file itself; it is streamed to disk. */
export const POST = route(receiveTake);
