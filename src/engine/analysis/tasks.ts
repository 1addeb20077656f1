import { mkdir, rename, rm } from "node:fs/promises";
import { join } from "node:path";
import type { BuiltFrom } from "../../core/document";
import { bytesOf } from "../../core/pixels/frame";
import { type Seen, whereSeen } from "../../core/plate/seen";
import type { Survey } from "../../core/survey/survey";
import { FrameStore } from "../media/frame-store";
import { readIndex, writeWhole } from "../media/index-file";
import { readFile } from "node:fs/promises";
import { SURVEY_FILE } from "../paths";
import { alignTakes } from "./align";
import { type BuiltInfo, buildPlate } from "./build";
import { cellFrames } from "./cells";
import { surveyTake } from "./survey";
import type { Watch } from "./watch";
import { storedJson } from "../stored-json";

interface Frames {
  takeId: string;
  /** The take's own folder: index, cells, survey. */
  take: string;
  cache: string;
  cacheLimit: number;
}

/** What a process of its own can measure. Files are named by their paths. */
export type AnalysisSpec =
  | { kind: "survey"; index: string; out: string }
  | { kind: "find"; take: string; in: number; out: number; at: number; outline: number[][] }
  | ({ kind: "build"; built: BuiltFrom; out: string } & Frames)
  | { kind: "align"; shot: Frames; at: number; other: Frames; frame: number; avoid: number[][][] };

const indexOf = (folder: string) => readIndex(join(folder, "index.json"));
/** The survey of a take; one that was cut off is measured again when the page asks for it. */
const surveyOf = async (folder: string) => storedJson<Survey>(await readFile(join(folder, SURVEY_FILE), "utf8").catch(() => null));

export async function runAnalysis(spec: AnalysisSpec, watch: Watch): Promise<unknown> {
  switch (spec.kind) {
    case "survey":
      await writeWhole(spec.out, JSON.stringify(await surveyTake(await readIndex(spec.index), watch)));
      return {};
    case "find":
      return find(spec, watch);
    case "build":
      return build(spec, watch);
    case "align": {
      const open = async (f: Frames) => ({ id: f.takeId, index: await indexOf(f.take), store: new FrameStore(f.cache, f.cacheLimit) });
      return alignTakes(await open(spec.shot), spec.at, await open(spec.other), spec.frame, spec.avoid);
    }
  }
}

async function find(s: Extract<AnalysisSpec, { kind: "find" }>, watch: Watch): Promise<Seen> {
  const index = await indexOf(s.take);
  const survey = await surveyOf(s.take);
  const frames = await cellFrames(index, s.in, s.out, survey?.stillness ?? null, s.take, watch);
  return whereSeen(frames, s.in, s.at, s.outline);
}

async function build(s: Extract<AnalysisSpec, { kind: "build" }>, watch: Watch): Promise<BuiltInfo> {
  const survey = await surveyOf(s.take);
  const { frame, info } = await buildPlate(
    new FrameStore(s.cache, s.cacheLimit),
    s.takeId,
    await indexOf(s.take),
    s.built,
    survey?.stillness ?? null,
    s.take,
    watch,
  );
  const part = `${s.out}.${process.pid}.part`;
  await mkdir(part, { recursive: true });
  await writeWhole(join(part, "picture.raw"), bytesOf(frame));
  await writeWhole(join(part, "info.json"), JSON.stringify(info));
  await rm(s.out, { recursive: true, force: true });
  await rename(part, s.out);
  return info;
}
