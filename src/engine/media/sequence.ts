import { mkdir, readdir, stat, symlink } from "node:fs/promises";
import { basename, dirname, extname, join, resolve } from "node:path";
import { sharp } from "./sharp";
import { type Arguments, ff, numbered, pair } from "./arguments";
import { MediaError } from "./media-error";

/** Numbered stills as one take: links with numbers from 0 in a folder of ours, since ffmpeg ends a run at the first gap. */
export interface Sequence {
  folder: string;
  ext: string;
  rate: [number, number];
  count: number;
}

const KINDS: Record<string, string> = { ".png": "png", ".tif": "tiff", ".tiff": "tiff", ".jpg": "jpeg", ".jpeg": "jpeg" };
const DIGITS = 8;

export const isPattern = (path: string) => basename(path).includes("#");

/** The last run of digits in a still's name. */
const numberOf = (name: string) => Number(/(\d+)\D*$/.exec(name.slice(0, -extname(name).length || undefined))?.[1] ?? NaN);

/** The stills a name such as `dir/####.png` means, in order of their numbers. @throws MediaError when there are none. */
export async function matchingStills(pattern: string): Promise<string[]> {
  const name = basename(pattern);
  const [, before, hashes, after] = /^([^#]*)(#+)([^#]*)$/.exec(name) ?? [];
  if (!hashes) throw new MediaError(`“${name}” is no name for numbered stills: put one run of # where their numbers are, as in frames/####.png.`);
  const dir = dirname(resolve(pattern));
  const names = await readdir(dir).catch(() => {
    throw new MediaError(`The folder “${basename(dir)}” of the stills “${name}” was not found: check the path.`);
  });
  const digits = (n: string) => n.slice(before.length, n.length - after.length);
  const found = names.filter((n) => {
    const d = n.startsWith(before) && n.endsWith(after) ? digits(n) : "";
    // more digits than # only where the number needs them
    return /^\d+$/.test(d) && (d.length === hashes.length || (d.length > hashes.length && d[0] !== "0"));
  });
  if (!found.length)
    throw new MediaError(`There are no stills like “${name}” in the folder “${basename(dir)}”: check the name and how many # it has.`);
  return found.sort((a, b) => Number(digits(a)) - Number(digits(b))).map((n) => join(dir, n));
}

/** Stills somebody chose one by one, in order of the numbers in their names. @throws MediaError for names without numbers, or one number twice. */
export function inOrder(paths: string[]): string[] {
  const sorted = [...paths].sort((a, b) => numberOf(basename(a)) - numberOf(basename(b)));
  sorted.forEach((p, i) => {
    if (Number.isNaN(numberOf(basename(p))))
      throw new MediaError(`“${basename(p)}” has no number in its name, so its place among the stills is not known: number them.`);
    if (i && numberOf(basename(p)) === numberOf(basename(sorted[i - 1])))
      throw new MediaError(`“${basename(sorted[i - 1])}” and “${basename(p)}” have the same number: keep one of them.`);
  });
  return sorted;
}

/**
 * Makes a take of stills: checks that all are alike, and links them in `folder` by numbers from 0.
 * @throws MediaError naming the first still that differs from the first
 */
export async function openSequence(paths: string[], rate: [number, number], folder: string): Promise<{ sequence: Sequence; notes: string[] }> {
  const ext = extname(paths[0]).toLowerCase();
  const kind = KINDS[ext];
  if (!kind) throw new MediaError(`“${basename(paths[0])}” is not a still that can be used: give PNG, TIFF or JPEG.`);
  const first = await lookAt(paths[0]);
  for (const p of paths) {
    if (KINDS[extname(p).toLowerCase()] !== kind)
      throw new MediaError(`“${basename(p)}” is another kind of file than “${basename(paths[0])}”: the stills of a take must be alike.`);
    const other = await lookAt(p);
    for (const k of Object.keys(first) as (keyof typeof first)[])
      if (first[k] !== other[k])
        throw new MediaError(
          `“${basename(p)}” ${k === "size" ? "measures" : "holds"} ${other[k]} and “${basename(paths[0])}” ${first[k]}: the stills of a take must be alike; export them again in one size and kind.`,
        );
  }
  await mkdir(folder, { recursive: true });
  for (const [i, p] of paths.entries()) {
    const link = join(folder, `${String(i).padStart(DIGITS, "0")}${ext}`);
    await symlink(resolve(p), link).catch((e: NodeJS.ErrnoException) => {
      if (e.code !== "EEXIST") throw e;
    });
  }
  return { sequence: { folder, ext, rate, count: paths.length }, notes: gaps(paths) };
}

async function lookAt(path: string): Promise<{ size: string; kind: string }> {
  const st = await stat(path).catch(() => null);
  if (!st?.isFile()) throw new MediaError(`The still “${basename(path)}” was not found: check whether it was moved.`);
  if (!st.size) throw new MediaError(`The still “${basename(path)}” is empty (0 bytes): export it again.`);
  try {
    const m = await (await sharp())(path, { limitInputPixels: 1 << 28 }).metadata();
    if (m.format !== KINDS[extname(path).toLowerCase()]) throw new Error("another format than its name says");
    return { size: `${m.width}×${m.height}`, kind: `${m.channels} channels of ${m.depth === "ushort" ? 16 : 8} bits` };
  } catch {
    throw new MediaError(`The still “${basename(path)}” cannot be read, or it is damaged: export it again.`);
  }
}

/** Says which numbers are missing; frames run on without them. */
function gaps(paths: string[]): string[] {
  const numbers = paths.map((p) => numberOf(basename(p)));
  const holes = numbers.slice(1).flatMap((n, i) => (n > numbers[i] + 1 ? [n === numbers[i] + 2 ? String(n - 1) : `${numbers[i] + 1}–${n - 1}`] : []));
  if (!holes.length) return [];
  const list = holes.length > 6 ? `${holes.slice(0, 6).join(", ")} and more` : holes.join(", ");
  return [`Among the stills the numbers ${list} are missing; the frames run on without them.`];
}

/** Options of ffmpeg that open the stills from number `from`; nothing but these files, which have been looked at. */
export const sequenceInput = (s: Sequence, from: number): Arguments =>
  ff`-protocol_whitelist file -f image2 -pattern_type sequence -framerate ${pair(s.rate)} -start_number ${from} -i ${numbered(s.folder, DIGITS, s.ext)}`;
