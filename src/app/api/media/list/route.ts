import { pass } from "@/web/engine";
import { route } from "@/web/route";
import { mediaQuerySchema } from "@/wire/media";

export const GET = route(async (req) => {
  const { root, path } = mediaQuerySchema.parse(Object.fromEntries(new URL(req.url).searchParams));
  return pass(`/media/list?${new URLSearchParams({ root: String(root), path })}`);
});
