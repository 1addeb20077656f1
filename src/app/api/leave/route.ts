import { leave } from "@/web/entry";
import { route } from "@/web/route";

/** Whoever came in with the passphrase goes out again: their cookie counts no more. */
export const POST = route((req) => Promise.resolve(Response.json({}, { headers: { "set-cookie": leave(req), "cache-control": "no-store" } })));
