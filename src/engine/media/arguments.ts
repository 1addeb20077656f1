import { resolve } from "node:path";

/**
 * The one builder of what ffmpeg and ffprobe are told. Both run whatever filter or address stands in their arguments, so no
 * string of a document, a file name or a probe may reach them as it is: every value is checked for its form where it is made
 * a `Word` or a `Path`, and `ff` takes nothing else. Types hold it in the program, `ff` once more while it runs.
 */
declare const checked: unique symbol;
/** Letters, digits, `_ . + -`: nothing that means something to a filter graph or a shell. */
export type Word = string & { readonly [checked]: "word" };
/** Something that may hold any character and so stands alone as one argument: a file, a timecode. */
export type Path = string & { readonly [checked]: "path" };
/** One finished argument. */
export type Argument = string & { readonly [checked]: "argument" };
export type Arguments = readonly Argument[];

/** What a value was that has no form ffmpeg may be given. It is a fault of ours or an attack, never something to be tried. */
export class UnsafeArgument extends Error {
  constructor(what: string, value: unknown) {
    super(`${what} “${String(value).slice(0, 60)}” is not of a form that can be handed on.`);
  }
}

const made = new WeakSet<object>();
/** What `file`, `timecode` and `numbered` make. */
const ALONE = /^file:\/|^\d\d:\d\d:\d\d[:;.]\d\d$|^\/.*%0\dd\.[a-z0-9]+$/s;
const WORD = /^[A-Za-z0-9_][A-Za-z0-9_.+-]{0,127}$/;

/** A name such as that of a codec, of a sample layout or of a colour tag. @throws UnsafeArgument */
export function word(value: string): Word {
  if (typeof value !== "string" || !WORD.test(value)) throw new UnsafeArgument("The name", value);
  return value as Word;
}

/** Two whole numbers with `between` between them: a rate 24000/1001, a size 1280x720. @throws UnsafeArgument */
export function pair([a, b]: readonly [number, number], between: "/" | "x" = "/"): Word {
  if (![a, b].every((v) => Number.isSafeInteger(v) && v > 0)) throw new UnsafeArgument("The pair", [a, b]);
  return `${a}${between}${b}` as Word;
}

/** The shape of a pixel as a container says it, `4:3`, as a filter takes it, `4/3`. @throws UnsafeArgument */
export function aspect(value: string): Word {
  const m = /^(\d{1,6})[:/](\d{1,6})$/.exec(value);
  if (!m) throw new UnsafeArgument("The shape of a pixel", value);
  return pair([Number(m[1]), Number(m[2])]);
}

/** SMPTE timecode. @throws UnsafeArgument */
export function timecode(value: string): Path {
  if (!/^\d\d:\d\d:\d\d[:;.]\d\d$/.test(value)) throw new UnsafeArgument("The timecode", value);
  return value as Path;
}

/** A file of this machine by its whole path; never an address, an option or a list. @throws UnsafeArgument for a name no file has */
export function file(path: string): Path {
  if (typeof path !== "string" || !path || path.includes("\0")) throw new UnsafeArgument("The file", path);
  return `file:${resolve(path)}` as Path;
}

/** Numbered stills in a folder: `digits` digits from 0, then `ext`. @throws UnsafeArgument */
export function numbered(folder: string, digits: number, ext: string): Path {
  if (!/^\.[a-z0-9]{1,8}$/.test(ext) || !folder || folder.includes("\0")) throw new UnsafeArgument("The name of stills", ext);
  return `${resolve(folder).replaceAll("%", "%%")}/%0${digits}d${ext}` as Path;
}

/** A number as ffmpeg reads one. @throws UnsafeArgument for what is no number */
const numeral = (v: number): string => {
  if (!Number.isFinite(v)) throw new UnsafeArgument("The number", v);
  return Number.isInteger(v) ? String(v) : v.toFixed(6);
};

const isList = (v: unknown): v is Arguments => Array.isArray(v) && made.has(v);

/**
 * Arguments written out, split where blanks stand in the text itself: `` ff`-s ${pair([w, h], "x")} -vf scale=${w}:${h}` ``.
 * A value never splits; a `Path` stands alone, or behind `=` in an argument that is nothing else. Lists made here go in as they are.
 * @throws UnsafeArgument
 */
export function ff(text: TemplateStringsArray, ...values: (number | Word | Path | Arguments)[]): Arguments {
  const out: string[] = [];
  let now: string | null = null;
  let alone = false;
  const end = () => {
    if (now !== null) out.push(now);
    now = null;
    alone = false;
  };
  text.forEach((part, i) => {
    const pieces = part.split(/\s+/);
    pieces.forEach((p, k) => {
      if (k) end();
      if (!p) return;
      if (alone) throw new UnsafeArgument("What follows a file", p);
      now = (now ?? "") + p;
    });
    if (i >= values.length) return;
    const v = values[i];
    if (typeof v === "object") {
      if (!isList(v)) throw new UnsafeArgument("The list", v);
      const next = text[i + 1];
      if (now !== null || (next && !/^\s/.test(next))) throw new UnsafeArgument("The list within", now ?? next);
      out.push(...v);
    } else if (typeof v === "number") now = (now ?? "") + numeral(v);
    else if (WORD.test(v) || /^\d+[/x]\d+$/.test(v)) now = (now ?? "") + v;
    else {
      if (!ALONE.test(v)) throw new UnsafeArgument("The value", v);
      if (now !== null && !/^[a-z]+=$/.test(now)) throw new UnsafeArgument("The file within", now);
      now = (now ?? "") + v;
      alone = true;
    }
  });
  end();
  return listed(out);
}

/** Several lists as one. */
export const joined = (...lists: Arguments[]): Arguments => listed(lists.flatMap((l) => (isList(l) ? l : refuse(l))));

/** Filters one after another, as the one argument they are, their output named `[to]`; nothing where there are none. */
export function chain(filters: readonly Arguments[], to?: Word): Arguments {
  const all = filters.map((f) => (isList(f) && f.length === 1 ? f[0] : refuse(f)));
  return listed(all.length ? [all.join(",") + (to ? `[${to}]` : "")] : []);
}

const refuse = (l: unknown): never => {
  throw new UnsafeArgument("The list", l);
};
function listed(args: readonly string[]): Arguments {
  made.add(args);
  return isList(args) ? args : refuse(args);
}

/** The arguments of a call. @throws UnsafeArgument for a list that was not made here */
export const spelled = (a: Arguments): string[] => (isList(a) ? [...a] : refuse(a));
