import { pass } from "@/web/engine";
import { jsonBody, route } from "@/web/route";
import { goBackSchema } from "@/wire/shot";

/** Goes back to a kept copy; what is there now is set aside. */
export const POST = route(async (req) => pass("/copies/back", { method: "POST", body: goBackSchema.parse(await jsonBody(req)) }));
