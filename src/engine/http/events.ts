import type { Event } from "../../wire/shot";
import type { Answers } from "./answer";

const text = new TextEncoder();
type Listener = ReadableStreamDefaultController<Uint8Array>;

/** How often somebody who listens is told that there is nothing new, in milliseconds: what lies between gives up on a silent stream. */
const HEARTBEAT = 20_000;

/** Who listens to what happens: one open answer each. */
export class Listeners {
  private readonly all = new Set<Listener>();

  constructor() {
    setInterval(() => this.send(text.encode(": still here\n\n")), HEARTBEAT).unref();
  }

  tell(e: Event): void {
    this.send(text.encode(`data: ${JSON.stringify(e)}\n\n`));
  }

  private send(line: Uint8Array): void {
    for (const l of this.all) {
      try {
        l.enqueue(line);
      } catch {
        this.all.delete(l); // gone a moment ago
      }
    }
  }

  /** A stream of all that happens from now on. */
  stream(): ReadableStream<Uint8Array> {
    let mine: Listener;
    return new ReadableStream<Uint8Array>({
      start: (listener) => {
        mine = listener;
        this.all.add(listener);
        listener.enqueue(text.encode(": hello\n\n"));
      },
      cancel: () => void this.all.delete(mine),
    });
  }
}

export const eventAnswers = ({ listeners }: { listeners: Listeners }): Pick<Answers, "events"> => ({
  events: () => Promise.resolve(new Response(listeners.stream(), { headers: { "content-type": "text/event-stream", "cache-control": "no-store" } })),
});
