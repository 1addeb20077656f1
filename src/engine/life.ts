/** The engine's life beside the launcher: it ends when it is told to or when the launcher has gone, and says that it is alive. */

import { whenOrphaned } from "./orphan";
import { storedJson } from "./stored-json";

/** Exit status that tells the launcher not to start the engine again: another process has the folder. */
export const IN_USE = 3;

let leave: () => Promise<void> = () => Promise.resolve();
let leaving = false;

/** Ends the process once what is open has been closed; at most five seconds later in any case. */
export async function end(status: number): Promise<never> {
  if (!leaving) {
    leaving = true;
    setTimeout(() => process.exit(status), 5000).unref();
    await leave().catch(() => undefined);
    process.exit(status);
  }
  return new Promise<never>(() => undefined);
}

/** What has to be closed before the end. */
export function beforeEnd(close: () => Promise<void>): void {
  leave = close;
}

/** From the first moment on, before anything is opened. */
export function beginLife(): void {
  for (const s of ["SIGTERM", "SIGINT", "SIGHUP"] as const) process.on(s, () => void end(0));
  // the launcher was killed: nobody would end us any more
  whenOrphaned(() => void end(0));
  process.on("message", (m) => m === "alive?" && process.send?.("alive"));
}

/** What is being done, so that the launcher can name it when nothing is heard any more. */
export interface Doing {
  /** Names it for the next start, which leaves it alone. */
  key: string;
  words: string;
}

/** Tells the launcher what begins; call what is returned when it has ended. */
export function doing(d: Doing): () => void {
  process.send?.({ begins: d });
  return () => void process.send?.({ ends: d.key });
}

/** What the engine hung on before, as the launcher noted it. */
export function setAside(text = process.env.UMBER_SET_ASIDE): Doing[] {
  return storedJson<Doing[]>(text) ?? [];
}
