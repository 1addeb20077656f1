import { route } from "@/server/route";
import { finishStills } from "@/server/upload";

/** All stills are here: they become a take. */
export const POST = route(finishStills);
