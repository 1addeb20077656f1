/** Writes NOTICE: every library that is shipped, with its licence and its words. `npm run notice`. */
import { existsSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";

const root = new URL("..", import.meta.url).pathname;

interface Locked {
  version: string;
  license?: string;
  dev?: boolean;
  devOptional?: boolean;
  optional?: boolean;
  link?: boolean;
}

/** A library as it is installed. */
export interface Shipped {
  name: string;
  version: string;
  licence: string;
  /** Its own words; null where it lies on other machines only, or has none. */
  words: string | null;
}

const PLACE = /^node_modules\/(?:.*\/node_modules\/)?((?:@[^/]+\/)?[^/]+)$/;

/** All libraries the program needs to run, from what is locked; of each version once. */
export function shipped(): Shipped[] {
  const lock = JSON.parse(readFileSync(join(root, "package-lock.json"), "utf8")) as { packages: Record<string, Locked> };
  const found = new Map<string, Shipped>();
  for (const [place, p] of Object.entries(lock.packages)) {
    const name = PLACE.exec(place)?.[1];
    if (!name || p.dev || p.link) continue;
    const folder = join(root, place);
    // what is there on some machines only must not make two of them differ
    const words = p.optional || p.devOptional ? null : wordsIn(folder);
    const key = `${name}@${p.version}`;
    if (!found.has(key)) found.set(key, { name, version: p.version, licence: p.license ?? ownLicence(folder), words });
  }
  return [...found.values()].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : a.version < b.version ? -1 : 1));
}

function ownLicence(folder: string): string {
  const file = join(folder, "package.json");
  const { license } = existsSync(file) ? (JSON.parse(readFileSync(file, "utf8")) as { license?: string }) : {};
  return license ?? "not said";
}

function wordsIn(folder: string): string | null {
  if (!existsSync(folder)) return null;
  const file = readdirSync(folder)
    .sort()
    .find((f) => /^(licen[cs]e|copying)(\.(md|txt|mit))?$/i.test(f));
  return file ? readFileSync(join(folder, file), "utf8").replace(/\r\n/g, "\n").trim() : null;
}

/** The text of NOTICE. */
export function notice(all: readonly Shipped[]): string {
  const texts = new Map<string, Shipped[]>();
  for (const s of all) if (s.words) texts.set(s.words, [...(texts.get(s.words) ?? []), s]);
  const label = (s: Shipped) => `${s.name} ${s.version}`;
  return [
    "Umber Moth is shipped with these libraries, each under its own licence.",
    "",
    ...all.map((s) => `${label(s)}: ${s.licence}`),
    ...[...texts].flatMap(([words, of]) => ["", "-".repeat(80), of.map(label).join(", "), "", words]),
    "",
  ].join("\n");
}

if (process.argv[1] === new URL(import.meta.url).pathname) writeFileSync(join(root, "NOTICE"), notice(shipped()));
