import { engine } from "@/web/engine";
import { checkedId, route } from "@/web/route";
import { NAME_HEADER } from "@/wire/layout";
import { stillQuerySchema } from "@/wire/shot";

export const GET = route<{ id: string }>(async (req, { id }) => {
  const query = stillQuerySchema.parse(Object.fromEntries(new URL(req.url).searchParams));
  const search = new URLSearchParams(
    Object.entries(query)
      .filter(([, v]) => v !== undefined)
      .map(([k, v]) => [k, String(v)]),
  );
  const r = await engine(`/shots/${checkedId(id)}/still?${search}`);
  const name = r.headers.get(NAME_HEADER);
  return new Response(r.body, {
    status: r.status,
    headers: {
      "content-type": r.headers.get("content-type") ?? "application/json",
      "cache-control": "no-store",
      ...(name ? { "content-disposition": `attachment; filename*=UTF-8''${name}` } : {}),
    },
  });
});
