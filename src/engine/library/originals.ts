import { basename, dirname, join } from "node:path";
import type { Event } from "../../wire/shot";
import type { Library } from "./library";
import type { MediaFolders } from "../media/folders";
import { MediaError } from "../media/media-error";
import { lookedAt, type Print, printOf } from "../media/print";
import { originalsOf, type Takes } from "./takes";

/** Watches over originals: one that was moved is found again or asked for, one that has changed is noticed by its hash. */
export class Originals {
  private readonly looking = new Map<string, Promise<string | null>>();

  constructor(
    private readonly library: Library,
    private readonly takes: Takes,
    private readonly folders: MediaFolders,
    private readonly tell: (e: Event) => void,
  ) {}

  /** What is wrong with a take's original, in a sentence; null when it is the one that was read. */
  check(id: string): Promise<string | null> {
    let job = this.looking.get(id);
    if (!job) {
      job = this.look(id).finally(() => this.looking.delete(id));
      this.looking.set(id, job);
    }
    return job;
  }

  /** @throws MediaError with the sentence of `check` */
  async demand(ids: string[]): Promise<void> {
    for (const id of ids) {
      const trouble = await this.check(id);
      if (trouble) throw new MediaError(trouble);
    }
  }

  /** The user shows where an original is now. @throws MediaError when it is not the same file */
  async place(id: string, paths: string[]): Promise<void> {
    const row = await this.library.takeRow(id);
    const old = row.print ? (JSON.parse(row.print) as Print) : null;
    const print = await printOf(paths);
    if (old && print.hash !== old.hash)
      throw new MediaError(`“${basename(paths[0])}” is not the original of “${row.name}”: its content differs; bring it in as a new take instead.`);
    await this.takes.moved(id, paths, print);
    await this.say(id, null);
  }

  private async look(id: string): Promise<string | null> {
    const row = await this.library.takeRow(id);
    if (row.state !== "ready") return null;
    const paths = originalsOf(row);
    const old = row.print ? (JSON.parse(row.print) as Print) : null;
    if (!old) {
      // a take from before prints were kept
      const print = await printOf(paths).catch(() => null);
      if (print) await this.library.setTake(id, { print: JSON.stringify(print) });
      return this.say(id, print ? null : gone(row.name, paths[0]));
    }
    const now = await lookedAt(paths).catch(() => null);
    if (now && now.size === old.size && now.written === old.written) return this.say(id, null);
    if (now) {
      const print = await printOf(paths);
      if (print.hash !== old.hash)
        return this.say(
          id,
          `“${row.name}” has changed since it was read: bring the changed file in as a new take, or put the old one back; nothing of this shot is lost.`,
        );
      await this.library.setTake(id, { print: JSON.stringify(print) });
      return this.say(id, null);
    }
    const found = row.own ? null : await this.search(paths, old);
    if (!found) return this.say(id, gone(row.name, paths[0]));
    await this.takes.moved(id, found.paths, found.print);
    return this.say(id, null);
  }

  /** Looks in the folder it lay in and in the media folders: by size first, then by hash. Stills are looked for as a folder with all of them. */
  private async search(paths: string[], old: Print): Promise<{ paths: string[]; print: Print } | null> {
    const [first] = paths;
    let found: { paths: string[]; print: Print } | null = null;
    await this.folders.find([dirname(paths[0]), ...this.folders.roots], async (path, size) => {
      const all = paths.length === 1 ? [path] : paths.map((p) => join(dirname(path), basename(p)));
      if (paths.length === 1 ? size !== old.size : basename(path) !== basename(first)) return false;
      const print = await printOf(all).catch(() => null);
      if (print?.hash !== old.hash) return false;
      found = { paths: all, print };
      return true;
    });
    return found;
  }

  private async say(id: string, trouble: string | null): Promise<string | null> {
    const before = this.library.trouble.get(id) ?? null;
    if (trouble) this.library.trouble.set(id, trouble);
    else this.library.trouble.delete(id);
    if (before !== trouble) this.tell({ type: "take", take: this.library.toTake(await this.library.takeRow(id)) });
    return trouble;
  }
}

const gone = (name: string, path: string) =>
  `“${name}” is not where it was (in the folder “${basename(dirname(path))}”): plug in its disk, put it back, or show on the first page where it is now; what is mended is kept.`;
