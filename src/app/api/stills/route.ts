import { route } from "@/web/route";
import { finishStills } from "@/web/upload";

/** All stills are here: they become a take. */
export const POST = route(finishStills);
