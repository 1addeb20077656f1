import { route } from "@/server/route";
import { receivePicture } from "@/server/upload";

/** The body is the picture file itself; it is streamed to disk. */
export const POST = route(receivePicture);
