import { readdir, realpath, stat } from "node:fs/promises";
import { basename, delimiter, extname, join, relative, sep } from "node:path";
import type { MediaEntry, MediaFolder } from "../../wire/media";
import { MediaError } from "./media-error";

/** The folders of UMBER_MEDIA, from which footage may be used where it lies. */
export class MediaFolders {
  readonly roots: string[];

  constructor(setting = process.env.UMBER_MEDIA ?? "") {
    this.roots = setting.split(delimiter).filter(Boolean);
  }

  /** The real path of something below a root. @throws MediaError for what lies outside, also by a link */
  async inside(root: number, path: string): Promise<string> {
    const nothing = () => new MediaError("There is no such folder or file among the media folders (UMBER_MEDIA).");
    if (!this.roots[root] || path.includes("\0")) throw nothing();
    const base = await realpath(this.roots[root]).catch(() => {
      throw new MediaError(`The media folder “${basename(this.roots[root])}” is not there: plug in its disk, or change UMBER_MEDIA.`);
    });
    const real = await realpath(join(base, path)).catch(() => {
      throw nothing();
    });
    if (real !== base && !real.startsWith(base + sep)) throw nothing();
    return real;
  }

  /** What a folder holds: folders, films, and runs of numbered stills as one entry each. Hidden files are left out. */
  async list(root: number, path: string): Promise<MediaFolder> {
    const folder = await this.inside(root, path);
    if (!(await stat(folder)).isDirectory()) throw new MediaError("This is not a folder.");
    const base = await realpath(this.roots[root]);
    const entries: MediaEntry[] = [];
    const runs = new Map<string, { names: string[] }>();
    for (const e of await readdir(folder, { withFileTypes: true })) {
      if (e.name.startsWith(".")) continue;
      // what lies elsewhere by a link is refused when it is taken, so it is not offered either
      const real = await realpath(join(folder, e.name)).catch(() => null);
      if (!real?.startsWith(base + sep)) continue;
      const s = await stat(real).catch(() => null);
      if (!s || (s.isFile() && s.size === 0)) continue;
      const run = /^(.*?)(\d+)(\.(?:png|tiff?|jpe?g))$/i.exec(e.name);
      if (s.isDirectory()) entries.push({ kind: "folder", name: e.name, bytes: null });
      else if (run) {
        const key = `${run[1]}${"#".repeat(run[2].length)}${run[3]}`;
        runs.set(key, { names: [...(runs.get(key)?.names ?? []), e.name] });
      } else if (FILMS.test(extname(e.name))) entries.push({ kind: "film", name: e.name, bytes: s.size });
    }
    for (const [name, { names }] of runs) entries.push({ kind: "stills", name, bytes: null, count: names.length });
    const order = { folder: 0, film: 1, stills: 1 };
    entries.sort((a, b) => order[a.kind] - order[b.kind] || a.name.localeCompare(b.name, "en", { numeric: true }));
    return { root, path: relative(base, folder), name: basename(base), entries };
  }

  /** Looks below `start` folders for a file that `fits`; a few levels deep, and not for ever. */
  async find(start: string[], fits: (path: string, size: number) => Promise<boolean>): Promise<string | null> {
    let left = 20_000;
    const look = async (folder: string, depth: number): Promise<string | null> => {
      const below: string[] = [];
      for (const e of await readdir(folder, { withFileTypes: true }).catch(() => [])) {
        if (left-- < 0) return null;
        const path = join(folder, e.name);
        if (e.isDirectory() && !e.name.startsWith(".")) below.push(path);
        else if (e.isFile() && (await fits(path, (await stat(path).catch(() => null))?.size ?? -1))) return path;
      }
      if (depth > 0)
        for (const b of below) {
          const found = await look(b, depth - 1);
          if (found) return found;
        }
      return null;
    };
    for (const s of start) {
      const found = await look(s, 4);
      if (found) return found;
    }
    return null;
  }
}

const FILMS = /^\.(mp4|m4v|mov|mkv|webm|mxf|avi|mts|m2ts|ts|mpg|mpeg|ogv|dv|nut)$/i;
