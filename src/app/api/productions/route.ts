import { pass } from "@/server/engine";
import { jsonBody, route } from "@/server/route";
import { newProductionSchema } from "@/wire/shot";

export const POST = route(async (req) => pass("/productions", { method: "POST", body: newProductionSchema.parse(await jsonBody(req)) }));
