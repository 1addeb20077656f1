import { eventSchema, type Event } from "../wire/shot";

/** Under this name the windows of a browser pass events on to each other, and agree who of them listens. */
const SHARED = "umber-moth-events";
/** Milliseconds until a stream that was refused is opened again. */
const AGAIN = 800;

type Passed = { event: unknown } | { opened: true };

/**
 * Listens to the program's events; after a break the browser connects again. `opened` is called whenever events begin to come: what
 * happened before then was not heard, and is to be asked for. All windows of a browser share one connection, since a browser has only
 * six for a program: one of them has it and passes on what it hears; when that one closes, another takes over.
 */
export function listen(on: (e: Event) => void, opened: () => void): () => void {
  const heard = (event: unknown) => {
    const e = eventSchema.safeParse(event);
    if (e.success) on(e.data);
  };
  // without a secure address there is no way to agree
  if (!("locks" in navigator) || typeof BroadcastChannel === "undefined") return stream(heard, opened);
  const channel = new BroadcastChannel(SHARED);
  channel.onmessage = ({ data }: MessageEvent<Passed>) => ("event" in data ? heard(data.event) : opened());
  const closing = new AbortController();
  const closed = new Promise<void>((done) => closing.signal.addEventListener("abort", () => done()));
  void navigator.locks
    .request(SHARED, { signal: closing.signal }, async () => {
      const pass = (m: Passed) => channel.postMessage(m);
      const end = stream(
        (event) => {
          pass({ event });
          heard(event);
        },
        () => {
          pass({ opened: true });
          opened();
        },
      );
      await closed;
      end();
    })
    .catch(() => undefined) // closed while another one listens
    .finally(() => channel.close());
  // another window may have been listening for long
  opened();
  return () => closing.abort();
}

/** The connection itself. */
function stream(heard: (event: unknown) => void, opened: () => void): () => void {
  let source: EventSource;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const open = () => {
    source = new EventSource("/api/events");
    source.onopen = opened;
    source.onmessage = (m) => heard(JSON.parse(String(m.data)));
    source.onerror = () => {
      if (source.readyState === EventSource.CLOSED) timer = setTimeout(open, AGAIN); // an error answer ends it for good
    };
  };
  open();
  return () => {
    clearTimeout(timer);
    source.close();
  };
}
