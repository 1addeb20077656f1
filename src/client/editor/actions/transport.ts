import { soundUrl } from "../../api";
import type { Painter } from "../../picture/painter";
import type { EditorCore } from "./core";
import { takeOf } from "../state/select";

/** Speeds of the shuttle, one way. */
const SPEEDS = [1, 2, 4, 8];
/** Sound of longer stretches is not fetched as a whole: mark a stretch to hear it. */
const LONGEST_SOUND = 600;
/** A moment between asking for sound and hearing it. */
const LEAD = 0.04;

/** The frame due `steps` frames after `from`, within a … b; null where it would run beyond and does not loop. */
export function dueFrame(from: number, steps: number, a: number, b: number, loop: boolean): number | null {
  const count = b - a + 1;
  const at = from - a + steps;
  if (at >= 0 && at < count) return a + at;
  return loop ? a + (((at % count) + count) % count) : null;
}

/** Playing: at the true rate, in step with the sound, backward, faster, round a marked stretch. */
export function createTransport(core: EditorCore, painter: Painter) {
  const { get, set, refresh, notices } = core;
  let context: AudioContext | null = null;
  let sounding: AudioBufferSourceNode | null = null;
  let kept: { key: string; buffer: AudioBuffer } | null = null;
  /** Told apart by number: a start that waits for its sound is overtaken by a later one, or by stopping. */
  let run = 0;

  const stretch = () => get().marked ?? get().recipe.shot;

  /** The sound of a stretch, fetched once; null where there is none. */
  async function soundOf(a: number, b: number): Promise<AudioBuffer | null> {
    const { id, info } = takeOf(get());
    if (!info?.sound || (b - a + 1) / (info.rate[0] / info.rate[1]) > LONGEST_SOUND) return null;
    const key = `${id}/${a}/${b}`;
    if (kept?.key === key) return kept.buffer;
    try {
      const r = await fetch(soundUrl(id, a, b), { cache: "no-store" });
      if (!r.ok) throw new Error();
      const buffer = await context!.decodeAudioData(await r.arrayBuffer());
      kept = { key, buffer };
      return buffer;
    } catch {
      notices.said("The sound could not be read, so it plays without.");
      return null;
    }
  }

  async function play(speed = 1): Promise<void> {
    const mine = ++run;
    silence();
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
      context ??= new AudioContext();
      await context.resume();
      const buffer = await soundOf(a, b);
      if (mine !== run || !get().playing) return;
      if (buffer) {
        const heard = context;
        sounding = new AudioBufferSourceNode(heard, { buffer, loop: s.loop, loopEnd: (b - a + 1) / fps });
        sounding.connect(heard.destination);
        begun = heard.currentTime + LEAD + (heard.outputLatency || 0);
        sounding.start(heard.currentTime + LEAD, (from - a) / fps);
        // the picture goes by what is heard
        clock = () => heard.currentTime;
      } else begun = clock();
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

  function silence(): void {
    sounding?.stop();
    sounding?.disconnect();
    sounding = null;
  }

  function stop(): void {
    run++;
    silence();
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
      void context?.close();
    },
  };
}
