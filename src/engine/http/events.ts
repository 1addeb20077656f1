import type { ServerResponse } from "node:http";
import type { Event } from "../../wire/shot";
import type { Route } from "./route";

/** Who listens to what happens: one open answer each. */
export class Listeners {
  private readonly all = new Set<ServerResponse>();

  tell(e: Event): void {
    this.all.forEach((l) => l.write(`data: ${JSON.stringify(e)}\n\n`));
  }

  add(res: ServerResponse): void {
    res.writeHead(200, { "content-type": "text/event-stream", "cache-control": "no-store" });
    res.write(": hello\n\n");
    this.all.add(res);
    res.on("close", () => this.all.delete(res));
  }
}

export const eventRoutes = ({ listeners }: { listeners: Listeners }): Route[] => [
  [
    "GET",
    /^\/events$/,
    ({ res }) => {
      listeners.add(res);
      return Promise.resolve(undefined);
    },
  ],
];
