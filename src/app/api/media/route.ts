import { pass } from "@/web/engine";
import { route } from "@/web/route";

/** Names of the media folders. */
export const GET = route(() => pass("/media"));
