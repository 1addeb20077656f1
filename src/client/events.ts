import { eventSchema, type Event } from "../wire/shot";

/**
 * Listens to the program's events; after a break the browser connects again. `open` is called whenever events begin to come: what
 * happened before then was not heard, and is to be asked for.
 */
export function listen(on: (e: Event) => void, opened: () => void): () => void {
  let source: EventSource;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const open = () => {
    source = new EventSource("/api/events");
    source.onopen = opened;
    source.onmessage = (m) => {
      const e = eventSchema.safeParse(JSON.parse(String(m.data)));
      if (e.success) on(e.data);
    };
    source.onerror = () => {
      if (source.readyState === EventSource.CLOSED) timer = setTimeout(open, 800); // an error answer ends it for good
    };
  };
  open();
  return () => {
    clearTimeout(timer);
    source.close();
  };
}
