import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { sentences } from "../../core/survey/sentences";
import { type Area, buildPlate } from "../analysis/build";
import { surveyTake } from "../analysis/survey";
import { userErrorOf } from "../../wire/errors";
import { FrameStore } from "../media/frame-store";
import { writeWhole } from "../media/index-file";
import { framePng } from "../media/stills";
import { type Codec, CODECS, PRESETS } from "../../wire/formats";
import { readRecipe, readSource, resolvePictures, resolveTakes } from "../render/recipe-file";
import { render } from "../render/render";
import { WRITTEN, type Written } from "../render/spec";
import { stretchOnly } from "../render/stretch";

import { backupCommand, restoreCommand } from "./keeping";

class Usage extends Error {}

const USAGE = `umber render RECIPE.json --out FILE [--codec h264|prores|ffv1|vp9] [--preset medium] [--crf N] [--only patch|matte] [--handles N] [--convert]
umber survey FILE --json
umber plate FILE --out plate.png [--frame N | --from A --to B [--averaged]]
umber backup DIR
umber restore [DIR | COPY]`;

function options(args: string[], names: Record<string, "string" | "boolean">) {
  try {
    const r = parseArgs({ args, allowPositionals: true, options: Object.fromEntries(Object.entries(names).map(([k, type]) => [k, { type }])) });
    return { values: r.values as Record<string, string | boolean | undefined>, rest: r.positionals };
  } catch (e) {
    throw new Usage((e as Error).message.split(".")[0]);
  }
}

function whole(name: string, v: string | boolean | undefined, min: number, max: number): number {
  const n = Number(v);
  if (v === "" || !Number.isInteger(n) || n < min || n > max)
    throw new Usage(`--${name} was “${String(v)}”; a whole number from ${min} to ${max} is allowed`);
  return n;
}

/** A store of exact frames, in a folder that lives as long as one command. */
async function withStore<T>(work: (store: FrameStore, folder: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), "umber-"));
  try {
    return await work(new FrameStore(join(folder, "frames"), Number(process.env.UMBER_CACHE ?? 8e9)), folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function renderCommand(args: string[]): Promise<void> {
  const { values, rest } = options(args, {
    out: "string",
    codec: "string",
    preset: "string",
    crf: "string",
    only: "string",
    handles: "string",
    convert: "boolean",
  });
  if (rest.length !== 1) throw new Usage("render needs one RECIPE.json");
  if (typeof values.out !== "string" || !values.out) throw new Usage("render needs --out FILE");
  const out = values.out;
  const codec = (values.codec ?? (/\.png$/i.test(out) ? "png" : /\.tiff?$/i.test(out) ? "tiff" : "h264")) as Codec;
  if (!CODECS.includes(codec)) throw new Usage(`--codec was “${codec}”; allowed are h264, prores, ffv1, vp9 (png and tiff by the name of FILE)`);
  const preset = String(values.preset ?? "medium");
  if (!(PRESETS as readonly string[]).includes(preset)) throw new Usage(`--preset was “${preset}”; allowed are ${PRESETS.join(", ")}`);
  const crf = values.crf === undefined ? 18 : whole("crf", values.crf, 0, 51);
  const what = String(values.only ?? "result") as Written;
  if (!WRITTEN.includes(what)) throw new Usage(`--only was “${what}”; allowed are patch, matte`);
  const handles = values.handles === undefined ? null : whole("handles", values.handles, 0, 100_000);
  const given = await readRecipe(rest[0]);
  const recipe = handles === null ? given : stretchOnly(given, handles);
  const stop = new AbortController();
  process.once("SIGINT", () => stop.abort()).once("SIGTERM", () => stop.abort());
  const notes = await withStore(async (store, folder) => {
    const takes = await resolveTakes(recipe, rest[0], folder);
    const pictures = await resolvePictures(recipe, rest[0], takes, store);
    const said = Object.values(takes).flatMap((t) => (t.index.sequence ? t.index.info.notes : []));
    const more = await render({ recipe, takes, pictures, out, codec, preset, crf, what, convert: values.convert === true }, store, {
      signal: stop.signal,
      progress: (done, total) => {
        if (process.stderr.isTTY) process.stderr.write(`\r${done} of ${total} frames`);
        else if (done === total || done % 24 === 0) process.stderr.write(`${done} of ${total} frames\n`);
      },
    });
    return [...pictures.notes, ...said, ...more];
  });
  if (process.stderr.isTTY) process.stderr.write("\n");
  notes.forEach((n) => process.stderr.write(`${n}\n`));
}

/** Tells on stderr how far something is. */
const said = (what: string) => (n: number, total: number) => {
  if (process.stderr.isTTY) process.stderr.write(`\r${n} of ${total} ${what}`);
};

async function surveyCommand(args: string[]): Promise<void> {
  const { values, rest } = options(args, { json: "boolean" });
  if (rest.length !== 1) throw new Usage("survey needs one FILE");
  const { index, survey } = await withStore(async (_, folder) => {
    const index = await readSource(rest[0], undefined, join(folder, "stills"));
    return { index, survey: await surveyTake(index, { progress: said("frames measured") }) };
  });
  const { info } = index;
  const facts = {
    frames: info.frames,
    width: info.width,
    height: info.height,
    rate: info.rate,
    pixelFormat: info.pixelFormat,
    sound: info.sound !== null,
    timecode: info.timecode,
    variableRate: info.variableRate,
    colour: info.colour,
    ...survey,
    notes: info.notes,
  };
  if (process.stderr.isTTY) process.stderr.write("\n");
  if (values.json) console.log(JSON.stringify(facts, null, 2));
  else
    console.log(
      [
        `${info.frames} frames, ${info.width}×${info.height}, ${+(info.rate[0] / info.rate[1]).toFixed(3)} frames a second, ${info.pixelFormat}, ${info.sound ? "with" : "without"} sound`,
        ...Object.values(sentences(survey)),
        ...info.notes,
      ].join("\n"),
    );
}

async function plateCommand(args: string[]): Promise<void> {
  const { values, rest } = options(args, { out: "string", frame: "string", from: "string", to: "string", averaged: "boolean" });
  if (rest.length !== 1) throw new Usage("plate needs one FILE");
  if (typeof values.out !== "string" || !/\.png$/i.test(values.out)) throw new Usage("plate needs --out plate.png");
  const many = values.from !== undefined || values.to !== undefined;
  if (many && values.frame !== undefined) throw new Usage("plate takes either --frame or --from and --to");
  const top = 100_000_000;
  const n = whole("frame", values.frame ?? "0", 0, top);
  const png = await withStore(async (store, folder) => {
    const index = await readSource(rest[0], undefined, join(folder, "stills"));
    const last = index.info.frames - 1;
    if (n > last) throw new Usage(`--frame was ${n}; “${rest[0]}” has frames 0 to ${last}`);
    if (!many) return framePng(await store.frame("take", index, n), index.info.colour);
    const from = whole("from", values.from ?? "0", 0, last);
    const to = whole("to", values.to ?? String(last), from, last);
    const stretch = { in: from, out: to, average: values.averaged === true };
    const { frame, info } = await buildPlate(store, "take", index, stretch, null, null, { progress: said("steps") });
    if (process.stderr.isTTY) process.stderr.write("\n");
    const most = info.used.slice(0, 4).map(([f, share]) => `frame ${f} ${(100 * share).toFixed(0)} %`);
    process.stderr.write(`Made of ${info.used.length} frames: ${most.join(", ")}${info.used.length > 4 ? ", …" : ""}.\n`);
    const where = (areas: Area[]) => areas.map(([x, y, w, h]) => `${w}×${h} at ${x}, ${y}`).join("; ");
    if (info.neverAreas.length) process.stderr.write(`Never clean, still to be retouched: ${where(info.neverAreas)}.\n`);
    if (info.doubtAreas.length) process.stderr.write(`Two things are seen for a while each, look which is the ground: ${where(info.doubtAreas)}.\n`);
    return framePng(frame, index.info.colour);
  });
  await writeWhole(values.out, png);
}

/** One folder or name, or none where that is allowed. */
function oneName(command: string, args: string[], needed: boolean): string | undefined {
  const { rest } = options(args, {});
  if (rest.length > 1 || (needed && !rest.length)) throw new Usage(`${command} needs one DIR`);
  return rest[0];
}

const COMMANDS: Record<string, (args: string[]) => Promise<void>> = {
  render: renderCommand,
  survey: surveyCommand,
  plate: plateCommand,
  backup: (args) => backupCommand(oneName("backup", args, true)!),
  restore: (args) => restoreCommand(oneName("restore", args, false)),
};

const [command, ...args] = process.argv.slice(2);
try {
  if (!Object.hasOwn(COMMANDS, command ?? "")) throw new Usage(`“${command ?? ""}” is no command`);
  await COMMANDS[command](args);
} catch (e) {
  const message = e instanceof Error ? e.message : String(e);
  if (e instanceof Usage) {
    process.stderr.write(
      `${message.replace(/\.$/, "")}. Use: ${USAGE.split("\n").find((l) => l.startsWith(`umber ${command} `)) ?? USAGE.replace(/\n/g, " | ")}\n`,
    );
    process.exitCode = 2;
  } else {
    process.stderr.write(`${message}\n`);
    process.exitCode = userErrorOf(e) ? 2 : 1;
  }
}
