import { engine } from "@/server/engine";
import { checkedId, route } from "@/server/route";

export const GET = route<{ id: string }>(async (_, { id }) => {
  const r = await engine(`/shots/${checkedId(id)}/recipe`);
  if (!r.ok) return new Response(r.body, { status: r.status, headers: { "content-type": "application/json" } });
  const { name, recipe } = (await r.json()) as { name: string; recipe: unknown };
  return new Response(JSON.stringify(recipe, null, 2) + "\n", {
    headers: {
      "content-type": "application/json",
      "cache-control": "no-store",
      "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(name)}.recipe.json`,
    },
  });
});
