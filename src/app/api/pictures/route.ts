import { route } from "@/web/route";
import { receivePicture } from "@/web/upload";

/** The body is the picture file itself; it is streamed to disk. */
export const POST = route(receivePicture);
