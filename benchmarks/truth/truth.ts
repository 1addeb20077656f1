import { readFileSync } from "node:fs";
import { join } from "node:path";
import { frames } from "../../demo/make/decode";
import type { Rect } from "../../src/core/pixels/frame";
import { root } from "../measure";

/** Planes of one frame of 4:2:0, as 8-bit code values (fractions allowed). */
export interface Picture {
  width: number;
  height: number;
  y: Float32Array;
  cb: Float32Array;
  cr: Float32Array;
}

/** A film whose mending can be judged, since it is known how it would look without what must go. */
export interface Known {
  film: string;
  width: number;
  height: number;
  /** How many frames it has. */
  frames: number;
  /** Frames at which most of an intruder is seen. */
  worst: number[];
  /** Where the truth is known. */
  known: Rect;
  /** The intruder-free pictures at `list` within `box` (even edges, inside what is known), with the light of those frames. */
  clean(list: number[], box: Rect): Generator<Picture>;
  /** How much of each pixel of `box` all intruders cover together, 0–255. */
  mattes(list: number[], box: Rect): Generator<Uint8Array>;
}

interface Facts {
  frames: number;
  width: number;
  height: number;
  rate: [number, number];
  clean: { x: number; y: number; width: number; height: number; frames: number };
  intruders: Record<string, { inView: number[]; worst: number | null }>;
  light: { gain: 1 | number[] };
}

/** Pictures of a film as 4:2:0, cut to `box` (even edges), in codes of 8 bits and quarters of them. */
export function* pictures(file: string, width: number, height: number, list: number[], box: Rect): Generator<Picture> {
  const size = width * height * 3;
  for (const raw of frames(file, list, "yuv420p10le", size)) {
    const f = new Uint16Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + size));
    const w = box.x1 - box.x0;
    const h = box.y1 - box.y0;
    const cut = (from: number, stride: number, x0: number, y0: number, cw: number, ch: number) => {
      const out = new Float32Array(cw * ch);
      for (let y = 0; y < ch; y++) for (let x = 0; x < cw; x++) out[y * cw + x] = f[from + (y0 + y) * stride + x0 + x] / 4;
      return out;
    };
    const n = width * height;
    const chroma = (from: number) => cut(from, width / 2, box.x0 / 2, box.y0 / 2, w / 2, h / 2);
    yield { width: w, height: h, y: cut(0, width, box.x0, box.y0, w, h), cb: chroma(n), cr: chroma(n * 1.25) };
  }
}

/** What is true about a demo take. */
export class Truth implements Known {
  readonly facts: Facts;
  readonly known: Rect;
  readonly film: string;
  readonly width: number;
  readonly height: number;
  readonly frames: number;
  readonly worst: number[];

  constructor(private readonly take: string) {
    this.facts = JSON.parse(readFileSync(this.path(".json"), "utf8")) as Facts;
    this.film = join(root, "demo/takes", `${take}.mp4`);
    [this.width, this.height, this.frames] = [this.facts.width, this.facts.height, this.facts.frames];
    this.worst = Object.values(this.facts.intruders).flatMap((i) => (i.worst === null ? [] : [i.worst]));
    const { x, y, width, height } = this.facts.clean;
    this.known = { x0: x, y0: y, x1: x + width, y1: y + height };
  }

  private path(end: string) {
    return join(root, "demo/truth", this.take + end);
  }

  *clean(list: number[], box: Rect): Generator<Picture> {
    const { width: w, height: h } = this.facts.clean;
    const size = w * h * 3;
    const [x0, y0, cw, ch] = [box.x0 - this.known.x0, box.y0 - this.known.y0, box.x1 - box.x0, box.y1 - box.y0];
    let i = 0;
    for (const raw of frames(this.path("-clean.mkv"), list, "yuv420p10le", size)) {
      const v = new Uint16Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + size));
      const { gain } = this.facts.light;
      const g = gain === 1 ? 1 : gain[list[i++]];
      const plane = (from: number, k: number, middle: number) => {
        const out = new Float32Array((cw / k) * (ch / k));
        for (let y = 0; y < ch / k; y++)
          for (let x = 0; x < cw / k; x++) out[(y * cw) / k + x] = middle + (v[from + (y0 / k + y) * (w / k) + x0 / k + x] / 4 - middle) * g;
        return out;
      };
      yield { width: cw, height: ch, y: plane(0, 1, 16), cb: plane(w * h, 2, 128), cr: plane(w * h * 1.25, 2, 128) };
    }
  }

  mattes(list: number[], box: Rect): Generator<Uint8Array> {
    const films = Object.keys(this.facts.intruders).map((i) => this.path(`-matte-${i}.mkv`));
    return covers(films, this, list, box);
  }
}

/** What any of some mattes covers of each pixel of `box`, 0–255. */
export function* covers(films: string[], { width, height }: Pick<Known, "width" | "height">, list: number[], box: Rect): Generator<Uint8Array> {
  const all = films.map((f) => frames(f, list, "gray", width * height));
  for (const _ of list) {
    const now = all.map((g) => g.next().value as Buffer);
    const w = box.x1 - box.x0;
    const out = new Uint8Array(w * (box.y1 - box.y0));
    for (let i = 0; i < out.length; i++) {
      const k = (box.y0 + Math.floor(i / w)) * width + box.x0 + (i % w);
      out[i] = now.reduce((m, f) => Math.max(m, f[k]), 0);
    }
    yield out;
  }
}
