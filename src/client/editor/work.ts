import { stopWork } from "../api";
import type { EditorCore } from "./core";
import { uuid } from "../uuid";

/** The name of work that this page does by itself. */
const OWN = "own";

/** Runs something that the engine does for a while: shown with how far it is, and it can be stopped. One at a time. */
export function createWork({ get, set, notices }: EditorCore) {
  let stopOwn: () => void = () => undefined;
  return {
    /** Something this page does itself for a while, and how to leave it off; null when it is done. */
    own(now: { name: string; share: number } | null, stop: () => void): void {
      const { work } = get();
      stopOwn = stop;
      if (!now) return void (work?.id === OWN && set({ work: null }));
      if (!work || (work.id === OWN && work.total >= 0)) set({ work: { id: OWN, name: now.name, done: Math.floor(100 * now.share), total: 100 } });
    },
    /** The answer, or null when it was stopped or failed, which is said. */
    async run<T>(name: string, ask: (work: string) => Promise<T>): Promise<T | null> {
      if (get().work) {
        notices.said(`${get().work!.name} first: wait for it, or stop it.`);
        return null;
      }
      const id = uuid();
      set({ work: { id, name, done: 0, total: 0 } });
      try {
        return await ask(id);
      } catch (e) {
        const stopped = get().work?.total === -1;
        if (!stopped) notices.problem(e instanceof Error ? e.message : String(e));
        return null;
      } finally {
        set({ work: null });
      }
    },
    /** Told by the engine. */
    progress(id: string, done: number, total: number): void {
      const { work } = get();
      if (work?.id === id && work.total >= 0) set({ work: { ...work, done, total } });
    },
    stopWork(): void {
      const { work } = get();
      if (!work) return;
      set({ work: { ...work, total: -1 } });
      if (work.id === OWN) return stopOwn();
      void stopWork(work.id).catch(() => undefined);
    },
  };
}
