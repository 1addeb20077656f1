import { pass } from "@/server/engine";
import { route } from "@/server/route";

/** Names of the media folders. */
export const GET = route(() => pass("/media"));
