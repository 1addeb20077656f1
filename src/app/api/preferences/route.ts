import { pass } from "@/web/engine";
import { jsonBody, route } from "@/web/route";
import { preferencesSchema } from "@/wire/preferences";

export const GET = route(() => pass("/preferences"));
export const POST = route(async (req) => pass("/preferences", { method: "POST", body: preferencesSchema.parse(await jsonBody(req)) }));
