import type { ServerResponse } from "node:http";

export type Handler = (c: { params: string[]; body: unknown; query: URLSearchParams; res: ServerResponse }) => Promise<unknown>;
export type Route = [method: "GET" | "POST", path: RegExp, handler: Handler];
