import type { IntruderKind } from "./intruders";
import type { LightKind } from "./lights";
import type { SceneKind } from "./scenes";

/** What a take that only judges is made from: everything about it follows from this line. */
export interface Judge {
  name: string;
  scene: SceneKind;
  intruder: IntruderKind;
  light: LightKind;
  seed: number;
  /** Frames a second, and how the film is written. */
  rate: number;
  codec: keyof typeof CODECS;
  /** σ of the sensor's noise at middle grey, in 8-bit codes of R′G′B′, and over how many pixels it is soft. */
  noise: number;
  soft: number;
}

/** How films are written: ffmpeg's pixel format, what the file ends in, and the encoder with its settings. */
export const CODECS = {
  prores: { format: "yuv422p10le", end: "mov", args: ["-c:v", "prores_ks", "-profile:v", "3", "-vendor", "apl0"] },
  proresLight: { format: "yuv422p10le", end: "mov", args: ["-c:v", "prores_ks", "-profile:v", "1", "-vendor", "apl0"] },
  hevc10: { format: "yuv420p10le", end: "mp4", args: ["-c:v", "libx265", "-preset", "fast", "-crf", "20", "-x265-params", "log-level=none:pools=1"] },
  hevcLow: { format: "yuv420p10le", end: "mp4", args: ["-c:v", "libx265", "-preset", "fast", "-crf", "30", "-x265-params", "log-level=none:pools=1"] },
  h264: { format: "yuv420p", end: "mp4", args: ["-c:v", "libx264", "-preset", "medium", "-crf", "18"] },
  h264Low: { format: "yuv420p", end: "mp4", args: ["-c:v", "libx264", "-preset", "medium", "-b:v", "500k", "-maxrate", "700k", "-bufsize", "500k"] },
  h264Full: { format: "yuvj420p", end: "mp4", args: ["-c:v", "libx264", "-preset", "medium", "-crf", "17"] },
  h264High: { format: "yuv422p10le", end: "mov", args: ["-c:v", "libx264", "-preset", "medium", "-crf", "16", "-profile:v", "high422"] },
} as const; // prettier-ignore

/**
 * Twelve takes by which nothing is tuned: other scenes, cameras, codecs, intruders and lights than those of the production. What is
 * reached on the demo takes has to hold here.
 */
export const JUDGES: Judge[] = [
  { name: "yard", scene: "front", intruder: "boom", light: "clouds", seed: 11, rate: 24, codec: "prores", noise: 1.2, soft: 0.5 },
  { name: "ridge", scene: "hills", intruder: "walker", light: "still", seed: 23, rate: 25, codec: "hevc10", noise: 1, soft: 0.4 },
  { name: "store", scene: "shelves", intruder: "stand", light: "flicker", seed: 37, rate: 24, codec: "h264Low", noise: 1, soft: 0.5 },
  { name: "dusk", scene: "front", intruder: "boom", light: "still", seed: 41, rate: 24, codec: "h264", noise: 5, soft: 0.7 },
  { name: "planks", scene: "boards", intruder: "board", light: "walking", seed: 53, rate: 30, codec: "h264Full", noise: 1.5, soft: 0.4 },
  { name: "sheet", scene: "tiles", intruder: "board", light: "flicker", seed: 67, rate: 12, codec: "proresLight", noise: 0.8, soft: 0.5 },
  { name: "pane", scene: "shelves", intruder: "cable", light: "breathing", seed: 71, rate: 25, codec: "h264", noise: 1.4, soft: 0.6 },
  { name: "meadow", scene: "hills", intruder: "walker", light: "clouds", seed: 83, rate: 24, codec: "hevc10", noise: 1.6, soft: 0.5 },
  { name: "bath", scene: "tiles", intruder: "stand", light: "walking", seed: 97, rate: 25, codec: "h264High", noise: 1.2, soft: 0.3 },
  { name: "plaster", scene: "wall", intruder: "boom", light: "breathing", seed: 101, rate: 24, codec: "h264", noise: 2, soft: 1 },
  { name: "lamp", scene: "boards", intruder: "cable", light: "dimming", seed: 113, rate: 25, codec: "h264", noise: 1.5, soft: 0.5 },
  { name: "cellar", scene: "wall", intruder: "walker", light: "still", seed: 127, rate: 24, codec: "hevcLow", noise: 4, soft: 0.8 },
]; // prettier-ignore
