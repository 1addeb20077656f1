import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex, utf8ToBytes } from "@noble/hashes/utils.js";
import { z } from "zod";
import type { BuiltFrom } from "../core/document/plate";
import { addressOf, type AnswerOf, type BodyOf, type Endpoint, type Params } from "../wire/endpoint";
import { ENDPOINTS } from "../wire/endpoints";
import { errorSchema } from "../wire/errors";
import type { RenderWish } from "../wire/job";
import type { Preferences } from "../wire/preferences";
import type { ReportForm } from "../wire/proof";
import { type EditRequest, staleAnswerSchema, type StepRequest } from "../wire/shot";
import type { TakeInfo } from "../wire/take";

export type Rate = [number, number];
/** What shots belong to, and can be removed with them. */
type Owner = "take" | "production";

/** What went wrong, as the sentence to show. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly body: unknown = null,
  ) {
    super(message);
  }

  /** What kind of thing went wrong, where the program says so. */
  get code(): string | undefined {
    return errorSchema.safeParse(this.body).data?.code;
  }
}

/** Asks the engine for what an endpoint answers. @throws ApiError with the sentence to show */
async function ask<P extends string, E extends Endpoint<P>>(
  endpoint: E & { path: P },
  params: Params<P>,
  { query, body }: { query?: Record<string, string | number | undefined>; body?: BodyOf<E> } = {},
): Promise<AnswerOf<E>> {
  return read(endpoint.answer as z.ZodType<AnswerOf<E>>, endpoint.method, addressOf(endpoint, params, query), body);
}

export async function read<T>(schema: z.ZodType<T>, method: "GET" | "POST", path: string, body?: unknown): Promise<T> {
  let r: Response;
  try {
    r = await fetch(
      `/api${path}`,
      method === "GET" ? { cache: "no-store" } : { method, headers: { "content-type": "application/json" }, body: JSON.stringify(body ?? {}) },
    );
  } catch {
    throw new ApiError(0, "Umber Moth is not answering: it is started again by itself, or start it with ./umber.");
  }
  const value = (await r.json().catch(() => ({}))) as unknown;
  if (!r.ok) throw new ApiError(r.status, errorSchema.safeParse(value).data?.error ?? "Something failed.", value);
  return schema.parse(value);
}

const E = ENDPOINTS;

export const enter = (passphrase: string) => read(z.unknown(), "POST", "/enter", { passphrase });
export const leave = () => read(z.unknown(), "POST", "/leave");

export const fetchState = () => ask(E.state, {});
export const fetchMediaRoots = () => ask(E.mediaRoots, {});
export const fetchMedia = (root: number, path: string) => ask(E.mediaFolder, {}, { query: { root, path } });
export const addMedia = (productionId: string | null, root: number, path: string, rate?: Rate) => ask(E.useMedia, {}, { body: { productionId, root, path, ...(rate ? { rate } : {}) } }); // prettier-ignore
export const placeTake = (id: string, root: number, path: string) => ask(E.placeTake, { id }, { body: { root, path } });
export const fetchDependents = (what: Owner, id: string) => ask(what === "take" ? E.takeDependents : E.productionDependents, { id });
export const remove = (what: Owner, id: string) => ask(what === "take" ? E.removeTake : E.removeProduction, { id });
export const turnTake = (id: string, turned: TakeInfo["turned"] | null) => ask(E.turnTake, { id }, { body: { turned: turned ?? null } });
export const noteTake = (id: string, note: string) => ask(E.noteTake, { id }, { body: { note } });
export const orderStills = (id: string, reversed: boolean, rate: Rate) => ask(E.orderStills, { id }, { body: { reversed, rate } });
export const fetchCache = () => ask(E.cache, {});
export const changeCache = (body: { limit?: number; empty?: boolean }) => ask(E.changeCache, {}, { body });
export const fetchUnnamed = () => ask(E.unnamed, {});
export const clearUnnamed = () => ask(E.clearUnnamed, {});
export const fetchLog = () => ask(E.log, {});
export const fetchCopies = () => ask(E.copies, {});
export const goBackToCopy = (name: string) => ask(E.goBack, {}, { body: { name } });
export const putNoticeAway = (id: string) => ask(E.putNoticeAway, { id });
export const fetchPreferences = () => ask(E.preferences, {});
export const storePreferences = (body: Preferences) => ask(E.storePreferences, {}, { body });

export const fetchShot = (id: string) => ask(E.shot, { id });
export const sendEdit = (id: string, body: EditRequest) => ask(E.edit, { id }, { body });
export const sendStep = (id: string, body: StepRequest) => ask(E.step, { id }, { body });
export const fetchHistory = (id: string) => ask(E.history, { id });
export const cutShot = (id: string, frames: number[]) => ask(E.cut, { id }, { body: { frames } });
export const fetchNext = (id: string) => ask(E.neighbour, { id });
export const joinNext = (id: string) => ask(E.join, { id });

export const fetchSurvey = (id: string) => ask(E.survey, { id });
export const findThing = (id: string, body: BodyOf<typeof E.find>) => ask(E.find, { id }, { body });
export const buildPlate = (id: string, body: { take: string; built: BuiltFrom; task: string }) => ask(E.build, { id }, { body: body as BodyOf<typeof E.build> }); // prettier-ignore
export const alignTake = (id: string, body: BodyOf<typeof E.align>) => ask(E.align, { id }, { body });
export const colourAround = (id: string, frame: number, outline: number[][]) => ask(E.colour, { id }, { body: { frame, outline } });
export const measureGrain = (id: string, body: BodyOf<typeof E.grain>) => ask(E.grain, { id }, { body });
export const proveShot = (id: string, body: BodyOf<typeof E.prove>) => ask(E.prove, { id }, { body });
export const cutOutThing = (id: string, body: BodyOf<typeof E.cutOut>) => ask(E.cutOut, { id }, { body });
export const followRegion = (id: string, body: BodyOf<typeof E.follow>) => ask(E.follow, { id }, { body });
/** What the camera does, as a track from one of the take's frames. */
export const cameraTrackOf = (id: string, body: BodyOf<typeof E.camera>) => ask(E.camera, { id }, { body });
/** Keeps a table of colours. @throws in a sentence where it is none */
export const keepLook = (text: string) => ask(E.addLook, {}, { body: { text } });
/** Keeps what the survey measured of a take's light. */
export const keepLight = (id: string, body: BodyOf<typeof E.light>) => ask(E.light, { id }, { body });
/** The same grain for other shots: without what is known of the parts of the picture it was measured in. */
export const grainAnywhere = (hash: string) => ask(E.grainAnywhere, { hash });
export const stopTask = (id: string) => ask(E.stopTask, { id });
export const writeOutside = (id: string, body: BodyOf<typeof E.writeOutside>) => ask(E.writeOutside, { id }, { body });
export const endOutside = (id: string, plate: string) => ask(E.endOutside, { id }, { body: { plate } });
export const fetchOutside = (id: string, plate: string) => ask(E.outside, { id }, { query: { plate } });

export const fetchRenders = (id: string) => ask(E.renders, { id });
export const startRender = (id: string, body: RenderWish) => ask(E.render, { id }, { body });
export const stopJob = (id: string) => ask(E.stopJob, { id });
export const runAgain = (id: string) => ask(E.jobAgain, { id });

export const parseStale = (e: ApiError) => (e.status === 409 ? (staleAnswerSchema.safeParse(e.body).data ?? null) : null);

/** The address of a file or picture that an endpoint answers. */
const url = <P extends string>(e: { path: P }, params: Params<P>, query?: Record<string, string | number | undefined>) => `/api${addressOf(e, params, query)}`; // prettier-ignore

export const exactUrl = (takeId: string, n: number) => `/api/takes/${takeId}/frames/${n}`;
export const quickUrl = (takeId: string, n: number) => `/api/takes/${takeId}/quick/${n}`;
/** A picture that is no frame, by the hash of its key, on the planes of a shot's take. */
export const pictureUrl = (id: string, key: string) => url(E.picture, { id }, { hash: bytesToHex(sha256(utf8ToBytes(key))) });
/** The values of a picture as a mask: its alpha or its brightness. */
export const maskUrl = (id: string, asset: string, use: string) => url(E.maskPicture, { id }, { asset, use });
/** What was measured, by its hash. */
export const measuredUrl = (hash: string) => url(E.measured, { hash });
/** The sound of a take from frame `from` to frame `to`. */
export const soundUrl = (id: string, from: number, to: number) => url(E.sound, { id }, { from, to });
/** A single picture of a shot as a file. */
export const stillUrl = (id: string, query: { what: "frame" | "patch" | "plate"; frame: number; layer?: string; plate?: string }) => url(E.still, { id }, query); // prettier-ignore
/** What is still wrong in a shot, or in all of a production, as a file. */
export const reportUrl = (of: "shot" | "production", id: string, as: ReportForm, task: string) =>
  url(of === "shot" ? E.report : E.productionReport, { id }, { as, task });
/** A shot's recipe as a file. */
export const recipeUrl = (id: string) => `/api/shots/${id}/recipe`;
/** What a render has written. */
export const renderedUrl = (id: string) => `/api/jobs/${id}/file`;
