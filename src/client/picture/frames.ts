import { type Frame, frameFromBytes } from "../../core/pixels/frame";
import { halfFrame } from "../../core/pixels/half";
import { QUICK_FORMAT } from "../../core/pixels/quick";
import type { Take } from "../../wire/take";
import { PICTURE_HEADER } from "../../wire/layout";
import type { PictureShape } from "../../core/document/mask";
import type { Recipe } from "../../core/document/recipe";
import type { GainsByHash } from "../../core/compose/evenlight";
import type { Grains } from "../../core/compose/compose";
import { masksOf } from "../../core/document/recipe";
import type { Values } from "../../core/pixels/still";
import type { MaskPictures } from "../../core/shape/picture";
import { maskHeadSchema, pictureHeadSchema } from "../../wire/plate";
import { cutoutsOf, gainsOfLayers, grainsOf, tracksOf } from "../../recipe/assets";
import type { Cutouts } from "../../core/cutout/cutout-data";
import type { Tracks } from "../../core/compose/tie";
import { loadCutout, loadGains, loadGrain, loadTrack } from "./measured";
import { exactUrl, maskUrl, pictureUrl, quickUrl } from "../api";

/** What was measured for recipes, by its hash, as far as it was fetched. */
class Fetched<T> {
  readonly there = new Map<string, T>();
  constructor(
    private readonly hashesOf: (r: Recipe) => string[],
    private readonly fetched: (hash: string) => Promise<T>,
  ) {}
  has = (r: Recipe): boolean => this.hashesOf(r).every((h) => this.there.has(h));
  async load(r: Recipe): Promise<void> {
    for (const hash of this.hashesOf(r)) if (!this.there.has(hash)) this.there.set(hash, await this.fetched(hash));
  }
}

/** Holds the most recently used of something; the rest is dropped. */
class Recent<T> {
  private readonly map = new Map<string, T>();
  constructor(private readonly size: number) {}
  get(key: string): T | undefined {
    const v = this.map.get(key);
    if (v !== undefined) {
      this.map.delete(key);
      this.map.set(key, v);
    }
    return v;
  }
  set(key: string, v: T): void {
    this.map.delete(key);
    this.map.set(key, v);
    while (this.map.size > this.size) this.map.delete(this.map.keys().next().value!);
  }
}

const maskKey = (s: PictureShape) => `${s.use}/${s.asset}`;
/** The pictures that masks of a recipe are made of. */
const maskPictures = (r: Recipe): PictureShape[] =>
  masksOf(r).flatMap((m) => m.shapes.filter((s): s is PictureShape => s.kind === "picture" && s.on !== false && s.asset !== undefined));

/** A frame that will be there when more of its take is read. */
export class NotYet extends Error {}

/** The browser's frames: exact ones as raw planes (at most 24), quick ones decoded from JPEG into their planes. */
export class Frames {
  private readonly exact = new Recent<Frame>(24);
  private readonly quick = new Recent<Frame>(140);
  /** Quick ones at half their size. */
  private readonly small = new Recent<Frame>(140);
  /** Pictures that are no frames: built, brought in, plain. */
  private readonly pictures = new Recent<Frame>(6);
  /** Values of pictures that are used as masks. */
  private readonly values = new Recent<Values>(12);
  private readonly loading = new Map<string, Promise<Frame>>();

  constructor(
    private takes: Record<string, Take>,
    private readonly shot: string,
  ) {}

  useTakes(takes: Record<string, Take>): void {
    this.takes = takes;
  }

  take(key: string): Take {
    return this.takes[key];
  }
  exactNow(take: string, n: number): Frame | undefined {
    return this.exact.get(`${take}/${n}`);
  }
  quickNow(take: string, n: number): Frame | undefined {
    return this.quick.get(`${take}/${n}`);
  }

  loadExact(take: string, n: number): Promise<Frame> {
    const { id, info } = this.takes[take];
    return this.load(`x${take}/${n}`, this.exactNow(take, n), async () => {
      const r = await fetch(exactUrl(id, n), { cache: "no-store" });
      if (r.status === 425) throw new NotYet(`Frame ${n} is not read yet.`);
      if (!r.ok) throw new Error(((await r.json().catch(() => ({}))) as { error?: string }).error ?? `Frame ${n} could not be read.`);
      const f = frameFromBytes(new Uint8Array(await r.arrayBuffer()), info!.width, info!.height, info!.format);
      this.exact.set(`${take}/${n}`, f);
      return f;
    });
  }

  pictureNow(key: string): Frame | undefined {
    return this.pictures.get(key);
  }

  /** A picture that is no frame, on the planes of the shot's take. */
  loadPicture(key: string): Promise<Frame> {
    return this.load(`p${key}`, this.pictureNow(key), async () => {
      let r = await fetch(pictureUrl(this.shot, key), { cache: "no-store" });
      // the edit that brought it into the shot may still be on its way
      for (let wait = 100; r.status === 425 && wait < 4000; wait *= 1.5) {
        await new Promise((go) => setTimeout(go, wait));
        r = await fetch(pictureUrl(this.shot, key), { cache: "no-store" });
      }
      if (!r.ok) throw new Error(((await r.json().catch(() => ({}))) as { error?: string }).error ?? "The plate's picture could not be read.");
      const { width, height, format } = pictureHeadSchema.parse(JSON.parse(r.headers.get(PICTURE_HEADER) ?? "null"));
      const f = frameFromBytes(new Uint8Array(await r.arrayBuffer()), width, height, format);
      this.pictures.set(key, f);
      return f;
    });
  }

  /** Values of a picture used as a mask, once they are there. */
  readonly masks: MaskPictures = (s) => {
    const v = this.values.get(maskKey(s));
    if (!v) throw new Error("A picture that is used as a mask is not there yet.");
    return v;
  };
  hasMasks = (r: Recipe): boolean => maskPictures(r).every((s) => this.values.get(maskKey(s)));
  /** Fetches the pictures that a recipe's masks are made of. */
  async loadMasks(r: Recipe): Promise<void> {
    for (const s of maskPictures(r)) {
      const key = maskKey(s);
      if (this.values.get(key)) continue;
      const x = await fetch(maskUrl(this.shot, s.asset!, s.use), { cache: "no-store" });
      if (!x.ok) throw new Error(((await x.json().catch(() => ({}))) as { error?: string }).error ?? "The mask's picture could not be read.");
      const { width, height } = maskHeadSchema.parse(JSON.parse(x.headers.get(PICTURE_HEADER) ?? "null"));
      this.values.set(key, { width, height, data: new Float64Array(await x.arrayBuffer()) });
    }
  }

  private readonly grain = new Fetched(grainsOf, loadGrain);
  private readonly light = new Fetched(gainsOfLayers, loadGains);
  private readonly track = new Fetched(tracksOf, loadTrack);
  private readonly cutout = new Fetched(cutoutsOf, loadCutout);
  /** The grain that patches are to have, as far as it is there. */
  get grains(): Grains {
    return this.grain.there;
  }
  /** The light that is steadied or made lively, as far as it is there. */
  get gains(): GainsByHash {
    return this.light.there;
  }
  /** What was measured of the tracks that patches follow, as far as it is there. */
  get tracks(): Tracks {
    return this.track.there;
  }
  /** What is cut out for masks, as far as it is there. */
  get cutouts(): Cutouts {
    return this.cutout.there;
  }
  /** Whether all that was measured for a recipe is there. */
  hasMeasured = (r: Recipe): boolean => this.grain.has(r) && this.light.has(r) && this.track.has(r) && this.cutout.has(r);
  /** Fetches what was measured for a recipe. */
  async loadMeasured(r: Recipe): Promise<void> {
    await this.grain.load(r);
    await this.light.load(r);
    await this.loadCarried(r);
  }
  /** Fetches what says where a recipe's masks lie. */
  async loadCarried(r: Recipe): Promise<void> {
    await this.track.load(r);
    await this.cutout.load(r);
  }

  loadQuick(take: string, n: number): Promise<Frame> {
    return this.load(`q${take}/${n}`, this.quickNow(take, n), async () => {
      const r = await fetch(quickUrl(this.takes[take].id, n));
      if (!r.ok) throw new NotYet(`The quick frame ${n} is not made yet.`);
      const f = await decodeJpeg(await r.arrayBuffer());
      this.quick.set(`${take}/${n}`, f);
      return f;
    });
  }

  /** A quick frame at half its size. */
  async loadSmall(take: string, n: number): Promise<Frame> {
    const key = `${take}/${n}`;
    const have = this.small.get(key);
    if (have) return have;
    const f = halfFrame(await this.loadQuick(take, n));
    this.small.set(key, f);
    return f;
  }

  private load(key: string, have: Frame | undefined, get: () => Promise<Frame>): Promise<Frame> {
    if (have) return Promise.resolve(have);
    let p = this.loading.get(key);
    if (!p) {
      p = get().finally(() => this.loading.delete(key));
      this.loading.set(key, p);
    }
    return p;
  }
}

/** A JPEG's own planes, without a detour over R′G′B′. */
async function decodeJpeg(data: ArrayBuffer): Promise<Frame> {
  if (typeof ImageDecoder === "undefined")
    throw new Error("This browser has no image decoder for quick frames: use a current Chromium, Firefox or Safari.");
  const decoder = new ImageDecoder({ data, type: "image/jpeg" });
  const { image } = await decoder.decode();
  const { width, height } = image.visibleRect ?? { width: image.codedWidth, height: image.codedHeight };
  const cw = (width + 1) >> 1;
  const size = width * height + 2 * cw * ((height + 1) >> 1);
  const bytes = new Uint8Array(Math.max(size, image.allocationSize()));
  const layout = await image.copyTo(bytes);
  const format = image.format;
  image.close();
  decoder.close();
  if (format !== "I420") throw new Error("The browser decoded a quick frame to an unexpected layout.");
  if (layout[0].stride === width && layout[1].stride === cw) return frameFromBytes(bytes, width, height, QUICK_FORMAT);
  const tight = new Uint8Array(size);
  let o = 0;
  [width, cw, cw].forEach((w, p) => {
    const h = p ? (height + 1) >> 1 : height;
    for (let y = 0; y < h; y++, o += w)
      tight.set(bytes.subarray(layout[p].offset + y * layout[p].stride, layout[p].offset + y * layout[p].stride + w), o);
  });
  return frameFromBytes(tight, width, height, QUICK_FORMAT);
}
