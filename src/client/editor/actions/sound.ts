import { soundUrl } from "../../api";
import type { EditorCore } from "./core";
import { takeOf } from "../state/select";

/** Sound of longer stretches, in seconds, is not fetched as a whole: mark a stretch to hear it. */
const LONGEST_SOUND = 600;
/** A moment between asking for sound and hearing it, in seconds. */
const LEAD = 0.04;

/** The sound that goes with playing. */
export function createSound({ get, notices }: EditorCore) {
  let context: AudioContext | null = null;

  let sounding: AudioBufferSourceNode | null = null;

  let kept: { key: string; buffer: AudioBuffer } | null = null;

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

  function silence(): void {
    sounding?.stop();
    sounding?.disconnect();
    sounding = null;
  }

  /**
   * Begins to sound a stretch of the shot, from a frame of it on.
   * @returns the clock that the picture goes by, and when on it the first frame is heard, in seconds; null where there is nothing to hear
   */
  async function begin(a: number, b: number, from: number, fps: number, loop: boolean, still: () => boolean) {
    context ??= new AudioContext();
    const heard = context;
    await heard.resume();
    const buffer = await soundOf(a, b);
    if (!buffer || !still()) return null;
    sounding = new AudioBufferSourceNode(heard, { buffer, loop, loopEnd: (b - a + 1) / fps });
    sounding.connect(heard.destination);
    sounding.start(heard.currentTime + LEAD, (from - a) / fps);
    return { clock: () => heard.currentTime, begun: heard.currentTime + LEAD + (heard.outputLatency || 0) };
  }

  return {
    begin,
    silence,
    close: () => void context?.close(),
  };
}
