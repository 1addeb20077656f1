import { UserError } from "@/core/user-error";
import { open, readFile, stat } from "node:fs/promises";
import { join, resolve } from "node:path";
import { frameBytes } from "@/core/pixels/frame";
import { BLOCK, blockFile, QUICK_INDEX, QUICK_PACK } from "@/wire/layout";
import { ENDPOINTS } from "@/wire/endpoints";
import type { TakeInfo } from "@/wire/take";
import { answered, engine } from "./engine";
import { checkedId } from "./route";

const data = () => resolve(process.env.UMBER_DATA || "./data");
const infos = new Map<string, TakeInfo>();
/** When the engine was last asked to look at a take's quick frames, in milliseconds. */
const looked = new Map<string, number>();
/** Blocks the engine was asked for since this process began. */
const asked = new Set<string>();

async function infoOf(takeId: string): Promise<TakeInfo> {
  const kept = infos.get(takeId);
  if (kept) return kept;
  try {
    const { info } = JSON.parse(await readFile(join(data(), "takes", checkedId(takeId), "index.json"), "utf8")) as { info: TakeInfo };
    infos.set(takeId, info);
    return info;
  } catch {
    return provisional(takeId); // not read yet, or cut off: the engine reads it again
  }
}

/** What is known of a take that is still being read. */
async function provisional(takeId: string): Promise<TakeInfo> {
  const take = await answered(ENDPOINTS.take, { id: takeId }).catch((e: unknown) => {
    if (e instanceof UserError && e.code === "missing") return null;
    throw e;
  });
  if (!take?.info) throw new UserError("missing", "This take is not read yet.");
  return take.info;
}

/** Bytes of a file; null where they are not there, or the file has another size than it should. */
async function slice(path: string, from: number, size: number, whole?: number): Promise<Uint8Array<ArrayBuffer> | null> {
  const fh = await open(path).catch(() => null);
  if (!fh) return null;
  try {
    if (whole !== undefined && (await fh.stat()).size !== whole) return null;
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
  if (n >= info.frames) throw new UserError("missing", `The take has only frames 0 to ${info.frames - 1}.`);
  const size = frameBytes(info.width, info.height, info.format);
  const k = Math.floor(n / BLOCK);
  const whole = Math.min(BLOCK, info.frames - k * BLOCK) * size;
  const path = join(data(), "cache", checkedId(takeId), blockFile(k));
  // the engine holds a block against its hashes once; after that its size tells
  const read = async () => (asked.has(`${path}/${whole}`) ? slice(path, (n % BLOCK) * size, size, whole) : null);
  for (let i = 0; i < 3; i++) {
    const bytes = await read();
    if (bytes) return bytes;
    asked.add(`${path}/${whole}`);
    await answered(ENDPOINTS.makeBlock, { id: takeId, k: String(k) });
  }
  throw new UserError("away", "The frame could not be kept on disk; the cache may be too small (UMBER_CACHE).");
}

/** One quick frame as JPEG; null while it is not made yet. */
export async function quickFrame(takeId: string, n: number): Promise<Uint8Array<ArrayBuffer> | null> {
  const folder = join(data(), "takes", checkedId(takeId));
  const bytes = await quickBytes(folder, n);
  // where it should be there, the engine looks whether something was cut off
  if (!bytes && !(Date.now() - (looked.get(takeId) ?? 0) < 5000)) {
    looked.set(takeId, Date.now());
    await engine(ENDPOINTS.checkQuick, { id: takeId }).catch(() => undefined);
  }
  return bytes;
}

async function quickBytes(folder: string, n: number): Promise<Uint8Array<ArrayBuffer> | null> {
  const made = Math.floor(((await stat(join(folder, QUICK_INDEX)).catch(() => null))?.size ?? 0) / 8);
  if (n >= made) return null;
  const bounds = await slice(join(folder, QUICK_INDEX), n === 0 ? 0 : (n - 1) * 8, n === 0 ? 8 : 16);
  if (!bounds) return null;
  const [a, b] = n === 0 ? [0, new Float64Array(bounds.buffer)[0]] : new Float64Array(bounds.buffer);
  return slice(join(folder, QUICK_PACK), a, b - a);
}
