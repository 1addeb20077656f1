/** Files that were dropped, those of dropped folders (one level deep) among them. */
export async function droppedFiles(data: DataTransfer): Promise<File[]> {
  const entries = [...data.items].map((i) => i.webkitGetAsEntry());
  const plain = [...data.files];
  if (!entries.some((e) => e?.isDirectory)) return plain;
  const out: File[] = [];
  for (const [i, e] of entries.entries()) {
    if (e?.isDirectory) out.push(...(await filesOf(e as FileSystemDirectoryEntry)));
    else if (plain[i]) out.push(plain[i]);
  }
  return out;
}

async function filesOf(folder: FileSystemDirectoryEntry): Promise<File[]> {
  const reader = folder.createReader();
  const out: File[] = [];
  for (;;) {
    // a reader hands out some at a time, and nothing at the end
    const some = await new Promise<FileSystemEntry[]>((ok, no) => reader.readEntries(ok, no));
    if (!some.length) return out;
    for (const e of some)
      if (e.isFile && !e.name.startsWith(".")) out.push(await new Promise<File>((ok, no) => (e as FileSystemFileEntry).file(ok, no)));
  }
}

export const isStill = (f: File) => /\.(png|tiff?|jpe?g)$/i.test(f.name);

/** The name of numbered stills as one: `shot.####.png`. */
export const stillsName = (files: File[]) => files[0].name.replace(/(\d+)(\D*)$/, (_, n: string, rest: string) => "#".repeat(n.length) + rest);

/** In the order of the numbers in their names. */
export const byNumber = (files: File[]) => [...files].sort((a, b) => a.name.localeCompare(b.name, "en", { numeric: true }));

/** Numbers missing among stills in order, in words; null where there are none. */
export function missingNumbers(files: readonly { name: string }[]): string | null {
  const numbers = files.map((f) => Number(/(\d+)\D*$/.exec(f.name.replace(/\.[^.]+$/, ""))?.[1] ?? NaN));
  const holes = numbers.slice(1).flatMap((n, i) => (n > numbers[i] + 1 ? [n === numbers[i] + 2 ? String(n - 1) : `${numbers[i] + 1}–${n - 1}`] : []));
  if (!holes.length) return null;
  return holes.length > 6 ? `${holes.slice(0, 6).join(", ")} and more` : holes.join(", ");
}
