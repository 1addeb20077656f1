import { stopTask } from "../../api";
import type { EditorCore } from "./core";
import { uuid } from "../../uuid";

/** The name of work that this page does by itself. */
const OWN = "own";

/** Runs something that the engine does for a while: shown with how far it is, and it can be stopped. One at a time. */
export function createTasks({ get, set, notices }: EditorCore) {
  let stopOwn: () => void = () => undefined;
  return {
    /** Something this page does itself for a while, and how to leave it off; null when it is done. */
    own(now: { name: string; share: number } | null, stop: () => void): void {
      const { task } = get();
      stopOwn = stop;
      if (!now) return void (task?.id === OWN && set({ task: null }));
      if (!task || (task.id === OWN && task.total >= 0)) set({ task: { id: OWN, name: now.name, done: Math.floor(100 * now.share), total: 100 } });
    },
    /** The answer, or null when it was stopped or failed, which is said. */
    async run<T>(name: string, ask: (task: string) => Promise<T>): Promise<T | null> {
      if (get().task) {
        notices.said(`${get().task!.name} first: wait for it, or stop it.`);
        return null;
      }
      const id = uuid();
      set({ task: { id, name, done: 0, total: 0 } });
      try {
        return await ask(id);
      } catch (e) {
        const stopped = get().task?.total === -1;
        if (!stopped) notices.problem(e instanceof Error ? e.message : String(e));
        return null;
      } finally {
        set({ task: null });
      }
    },
    /** Told by the engine. */
    progress(id: string, done: number, total: number): void {
      const { task } = get();
      if (task?.id === id && task.total >= 0) set({ task: { ...task, done, total } });
    },
    stopTask(): void {
      const { task } = get();
      if (!task) return;
      set({ task: { ...task, total: -1 } });
      if (task.id === OWN) return stopOwn();
      void stopTask(task.id).catch(() => undefined);
    },
  };
}
