import { pass } from "@/web/engine";
import { jsonBody, route } from "@/web/route";
import { useMediaSchema } from "@/wire/media";

/** Begins a take with footage that stays where it lies. */
export const POST = route(async (req) => pass("/media/use", { method: "POST", body: useMediaSchema.parse(await jsonBody(req)) }));
