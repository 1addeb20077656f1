import { open, readFile, stat } from "node:fs/promises";
import { join, resolve } from "node:path";
import { frameBytes } from "@/core/pixels/frame";
import { BLOCK, blockFile, QUICK_INDEX, QUICK_PACK } from "@/wire/layout";
import { type TakeInfo, takeSchema } from "@/wire/take";
import { engine } from "./engine";
import { Refusal } from "./route";

const data = () => resolve(process.env.UMBER_DATA || "./data");
const infos = new Map<string, TakeInfo>();

async function infoOf(takeId: string): Promise<TakeInfo> {
  const kept = infos.get(takeId);
  if (kept) return kept;
  const text = await readFile(join(data(), "takes", takeId, "index.json"), "utf8").catch(() => null);
  if (!text) return provisional(takeId);
  const { info } = JSON.parse(text) as { info: TakeInfo };
  infos.set(takeId, info);
  return info;
}

/** What is known of a take that is still being read. */
async function provisional(takeId: string): Promise<TakeInfo> {
  const r = await engine(`/takes/${takeId}`);
  const take = r.ok ? takeSchema.parse(await r.json()) : null;
  if (!take?.info) throw new Refusal(404, "This take is not read yet.");
  return take.info;
}

async function slice(path: string, from: number, size: number): Promise<Uint8Array<ArrayBuffer> | null> {
  const fh = await open(path).catch(() => null);
  if (!fh) return null;
  try {
    const out = new Uint8Array(size);
    const { bytesRead } = await fh.read(out, 0, size, from);
    return bytesRead === size ? out : null;
  } finally {
    await fh.close();
  }
}

/** One exact frame's planes, read straight from its block; the engine is asked only for a block that is missing. */
export async function exactFrame(takeId: string, n: number): Promise<Uint8Array<ArrayBuffer>> {
  const info = await infoOf(takeId);
  if (n >= info.frames) throw new Refusal(404, `The take has only frames 0 to ${info.frames - 1}.`);
  const size = frameBytes(info.width, info.height, info.format);
  const k = Math.floor(n / BLOCK);
  const read = () => slice(join(data(), "cache", takeId, blockFile(k)), (n % BLOCK) * size, size);
  for (let i = 0; i < 3; i++) {
    const bytes = await read();
    if (bytes) return bytes;
    const r = await engine(`/takes/${takeId}/blocks/${k}`, { method: "POST", body: {} });
    if (!r.ok) throw new Refusal(r.status, ((await r.json()) as { error: string }).error);
  }
  throw new Refusal(503, "The frame could not be kept on disk; the cache may be too small (UMBER_CACHE).");
}

/** One quick frame as JPEG; null while it is not made yet. */
export async function quickFrame(takeId: string, n: number): Promise<Uint8Array<ArrayBuffer> | null> {
  const folder = join(data(), "takes", takeId);
  const made = Math.floor(((await stat(join(folder, QUICK_INDEX)).catch(() => null))?.size ?? 0) / 8);
  if (n >= made) return null;
  const bounds = await slice(join(folder, QUICK_INDEX), n === 0 ? 0 : (n - 1) * 8, n === 0 ? 8 : 16);
  if (!bounds) return null;
  const [a, b] = n === 0 ? [0, new Float64Array(bounds.buffer)[0]] : new Float64Array(bounds.buffer);
  return slice(join(folder, QUICK_PACK), a, b - a);
}
