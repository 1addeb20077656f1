import { askedByPage } from "@/web/asked";
import { route } from "@/web/route";

/** Everything that the table of endpoints lets pages ask; what needs more than passing on has a route of its own. */
export const GET = route<{ path: string[] }>(askedByPage);
export const POST = route<{ path: string[] }>(askedByPage);
