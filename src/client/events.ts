import { eventSchema, type Event } from "../wire/shot";

/** Listens to the program's events; after a break the browser connects again and `again` is called. */
export function listen(on: (e: Event) => void, again: () => void): () => void {
  let source: EventSource;
  let broken = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const open = () => {
    source = new EventSource("/api/events");
    source.onopen = () => {
      if (broken) again();
      broken = false;
    };
    source.onmessage = (m) => {
      const e = eventSchema.safeParse(JSON.parse(String(m.data)));
      if (e.success) on(e.data);
    };
    source.onerror = () => {
      broken = true;
      if (source.readyState === EventSource.CLOSED) timer = setTimeout(open, 800); // an error answer ends it for good
    };
  };
  open();
  return () => {
    clearTimeout(timer);
    source.close();
  };
}
