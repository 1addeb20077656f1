import { UserError } from "@/core/user-error";
import { type Endpoint, paramsIn } from "@/wire/endpoint";
import { ENDPOINTS } from "@/wire/endpoints";
import { engine, passOn } from "./engine";
import { checkedHash, checkedId, jsonBody } from "./route";

const FOR_PAGES: readonly Endpoint[] = Object.values<Endpoint>(ENDPOINTS).filter((e) => e.asker === "page");

/** The endpoint a request means, with its parameters. */
function meant(method: string, path: string): { endpoint: Endpoint; params: Record<string, string> } | null {
  for (const endpoint of FOR_PAGES) {
    const params = endpoint.method === method ? paramsIn(endpoint, path) : null;
    if (params) return { endpoint, params };
  }
  return null;
}

/** Passes a page's request to the engine, once all that it sends is what the table of endpoints allows. */
export async function askedByPage(req: Request): Promise<Response> {
  const url = new URL(req.url);
  const found = meant(req.method, url.pathname.replace(/^\/api/, ""));
  if (!found) throw new UserError("missing", "There is nothing here.");
  const { endpoint, params } = found;
  for (const [name, value] of Object.entries(params)) (name === "hash" ? checkedHash : checkedId)(value);
  const query = endpoint.query?.parse(Object.fromEntries(url.searchParams)) as Record<string, string | number | undefined> | undefined;
  const body = endpoint.body ? endpoint.body.parse(await jsonBody(req)) : undefined;
  return passOn(await engine(endpoint, params, { query, body, signal: req.signal }));
}
