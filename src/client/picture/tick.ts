const channel = new MessageChannel();
let waiting: (() => void)[] = [];
channel.port1.onmessage = () => {
  const all = waiting;
  waiting = [];
  for (const go of all) go();
};

/** Lets messages that have come in be served; sooner than a timer would. */
export const tick = () =>
  new Promise<void>((go) => {
    waiting.push(go);
    channel.port2.postMessage(0);
  });
