import type { Event } from "../../wire/shot";
import type { Answers } from "./answer";

const text = new TextEncoder();
type Listener = ReadableStreamDefaultController<Uint8Array>;

/** Who listens to what happens: one open answer each. */
export class Listeners {
  private readonly all = new Set<Listener>();

  tell(e: Event): void {
    const line = text.encode(`data: ${JSON.stringify(e)}\n\n`);
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
