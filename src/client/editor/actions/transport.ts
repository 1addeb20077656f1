import type { Painter } from "../../picture/painter";
import type { EditorCore } from "./core";
import { takeOf } from "../state/select";
import { createSound } from "./sound";

/** Speeds of the shuttle, one way. */
const SPEEDS = [1, 2, 4, 8];

/** The frame due `steps` frames after `from`, within a … b; null where it would run beyond and does not loop. */
export function dueFrame(from: number, steps: number, a: number, b: number, loop: boolean): number | null {
  const count = b - a + 1;
  const at = from - a + steps;
  if (at >= 0 && at < count) return a + at;
  return loop ? a + (((at % count) + count) % count) : null;
}

/** Playing: at the true rate, in step with the sound, backward, faster, round a marked stretch. */
export function createTransport(core: EditorCore, painter: Painter) {
  const { get, set, refresh } = core;
  const sounds = createSound(core);
  /** Told apart by number: a start that waits for its sound is overtaken by a later one, or by stopping. */
  let run = 0;

  const stretch = () => get().marked ?? get().recipe.shot;

  async function play(speed = 1): Promise<void> {
    const mine = ++run;
    sounds.silence();
    const s = get();
    const { rate, sound } = takeOf(s).info!;
    const fps = rate[0] / rate[1];
    const { in: a, out: b } = stretch();
    const way = Math.sign(speed);
    let from = Math.min(b, Math.max(a, s.frame));
    // from the end it begins again
    if (!s.loop && from === (way > 0 ? b : a)) from = way > 0 ? a : b;
    set({ playing: true, dropped: 0, speed });
    let clock = () => performance.now() / 1000;
    let begun = clock();
    if (speed === 1 && sound) {
      const still = () => mine === run && get().playing;
      const heard = await sounds.begin(a, b, from, fps, s.loop, still);
      if (!still()) return;
      // the picture goes by what is heard
      if (heard) ({ clock, begun } = heard);
      else begun = clock();
    }
    let last = -1;
    const tick = () => {
      if (mine !== run || !get().playing) return;
      const steps = Math.floor((clock() - begun) * fps * Math.abs(speed) + 1e-6);
      // one picture is drawn while the next is composed
      if (steps > last && steps >= 0 && painter.waiting < 2) {
        const meant = Math.max(1, Math.abs(speed));
        if (last >= 0 && steps > last + meant) set({ dropped: get().dropped + Math.floor((steps - last - 1) / meant) });
        last = steps;
        const frame = dueFrame(from, way * steps, a, b, get().loop);
        if (frame === null) {
          core.goTo(way > 0 ? b : a);
          return stop();
        }
        set({ frame });
        refresh();
        const ahead = Array.from({ length: 12 }, (_, i) => dueFrame(from, way * (steps + Math.ceil(meant) * (i + 1)), a, b, true)!);
        painter.ahead(ahead);
      }
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  }

  function stop(): void {
    run++;
    sounds.silence();
    if (!get().playing) return;
    set({ playing: false, speed: 1 });
    refresh();
  }

  return {
    play: () => (get().playing ? stop() : void play(1)),
    playBack: () => (get().playing && get().speed < 0 ? stop() : void play(-1)),
    stop,
    goTo: core.goTo,
    /** Goes to a frame to be there: playing stops. */
    jump(n: number): void {
      stop();
      core.goTo(n);
    },
    step(by: number): void {
      stop();
      core.goTo(get().frame + by);
    },
    /** Faster that way; from the other way back to a stand first. */
    shuttle(way: 1 | -1): void {
      const { playing, speed } = get();
      if (!playing) return void play(way);
      if (Math.sign(speed) !== way) return stop();
      const next = SPEEDS[Math.min(SPEEDS.length - 1, SPEEDS.indexOf(Math.abs(speed)) + 1)];
      void play(way * next);
    },
    setLoop(loop: boolean): void {
      const { playing, speed } = get();
      set({ loop });
      // the sound has to know
      if (playing) void play(speed);
    },
    /** Marks the stretch that is played, by one of its ends; the other one gives way. */
    mark(end: "in" | "out", n: number): void {
      const { recipe, marked } = get();
      const now = marked ?? { in: recipe.shot.in, out: recipe.shot.out };
      const next = end === "in" ? { in: n, out: Math.max(n, now.out) } : { in: Math.min(n, now.in), out: n };
      set({ marked: next.in === recipe.shot.in && next.out === recipe.shot.out ? null : next });
    },
    unmark: () => set({ marked: null }),
    close(): void {
      stop();
      sounds.close();
    },
  };
}
