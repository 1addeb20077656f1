import { pass } from "@/web/engine";
import { jsonBody, route } from "@/web/route";
import { cacheRequestSchema } from "@/wire/media";

export const GET = route(() => pass("/cache"));
export const POST = route(async (req) => pass("/cache", { method: "POST", body: cacheRequestSchema.parse(await jsonBody(req)) }));
