const channel = new MessageChannel();
let waiting: (() => void)[] = [];
channel.port1.onmessage = () => {
  const all = waiting;
  waiting = [];
  for (const go of all) go();
};

/** Lets messages that have come in be served; sooner than a timer would. */
const tick = () =>
  new Promise<void>((go) => {
    waiting.push(go);
    channel.port2.postMessage(0);
  });

/** How long work is followed and left off. */
export interface Watch {
  progress: (share: number) => void;
  stopped: () => boolean;
}

export class Stopped extends Error {}

/** How often messages are served while something long is worked out, in ms. */
const EVERY = 40;

/** Runs steps to their end; now and then what has come in meanwhile is served. @throws Stopped when it was told to leave off. */
export async function stepped<T>(steps: Generator<number, T>, watch: Watch): Promise<T> {
  let last = performance.now();
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    if (performance.now() - last < EVERY) continue;
    watch.progress(step.value);
    await tick();
    if (watch.stopped()) throw new Stopped();
    last = performance.now();
  }
}

/** Work that nobody follows. */
export const UNWATCHED: Watch = { progress: () => undefined, stopped: () => false };
