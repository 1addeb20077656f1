import { pass } from "@/server/engine";
import { jsonBody, route } from "@/server/route";
import { preferencesSchema } from "@/wire/preferences";

export const GET = route(() => pass("/preferences"));
export const POST = route(async (req) => pass("/preferences", { method: "POST", body: preferencesSchema.parse(await jsonBody(req)) }));
