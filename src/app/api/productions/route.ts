import { pass } from "@/web/engine";
import { jsonBody, route } from "@/web/route";
import { newProductionSchema } from "@/wire/shot";

export const POST = route(async (req) => pass("/productions", { method: "POST", body: newProductionSchema.parse(await jsonBody(req)) }));
