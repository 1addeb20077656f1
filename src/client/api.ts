import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex, utf8ToBytes } from "@noble/hashes/utils.js";
import { z } from "zod";
import {
  copiesSchema,
  editAnswerSchema,
  historySchema,
  type EditRequest,
  type Job,
  jobSchema,
  type RenderWish,
  type ShotDocument,
  shotSchema,
  stateSchema,
  staleAnswerSchema,
  type StepRequest,
} from "../wire/shot";
import { cacheSchema, dependentsSchema, mediaFolderSchema, mediaRootsSchema } from "../wire/media";
import type { BuiltFrom } from "../core/document";
import {
  alignedSchema,
  builtInfoSchema,
  colourAnswerSchema,
  outsideAnswerSchema,
  pictureAnswerSchema,
  seenSchema,
  surveyAnswerSchema,
} from "../wire/plate";
import { type Preferences, preferencesSchema } from "../wire/preferences";
import { takeSchema, type Take, type TakeInfo } from "../wire/take";
import { uuid } from "./uuid";

export type Rate = [number, number];

/** What went wrong, as the sentence to show. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly body: unknown = null,
  ) {
    super(message);
  }
}

async function call<T>(schema: z.ZodType<T>, path: string, body?: unknown): Promise<T> {
  let r: Response;
  try {
    r = await fetch(
      path,
      body === undefined ? { cache: "no-store" } : { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) },
    );
  } catch {
    throw new ApiError(0, "Umber Moth is not answering: it is started again by itself, or start it with ./umber.");
  }
  const value = (await r.json().catch(() => ({}))) as unknown;
  if (!r.ok) throw new ApiError(r.status, (value as { error?: string }).error ?? "Something failed.", value);
  return schema.parse(value);
}

export const enter = (passphrase: string) => call(z.unknown(), "/api/enter", { passphrase });
export const fetchMediaRoots = () => call(mediaRootsSchema, "/api/media");
export const fetchMedia = (root: number, path: string) =>
  call(mediaFolderSchema, `/api/media/list?${new URLSearchParams({ root: String(root), path })}`);
export const addMedia = (productionId: string | null, root: number, path: string, rate?: Rate) =>
  call(takeSchema, "/api/media/use", { productionId, root, path, ...(rate ? { rate } : {}) });
export const placeTake = (id: string, root: number, path: string) => call(z.unknown(), `/api/takes/${id}/place`, { root, path });
export const fetchDependents = (what: "take" | "production", id: string) => call(dependentsSchema, `/api/${what}s/${id}/dependents`);
export const remove = (what: "take" | "production", id: string) => call(z.unknown(), `/api/${what}s/${id}/remove`, {});
export const turnTake = (id: string, turned: TakeInfo["turned"] | null) => call(takeSchema, `/api/takes/${id}/turn`, { turned });
export const noteTake = (id: string, note: string) => call(takeSchema, `/api/takes/${id}/note`, { note });
export const fetchCache = () => call(cacheSchema, "/api/cache");
export const changeCache = (change: { limit?: number; empty?: boolean }) => call(cacheSchema, "/api/cache", change);
export const fetchCopies = () => call(copiesSchema, "/api/copies");
export const goBackToCopy = (name: string) => call(z.unknown(), "/api/copies/back", { name });
export const putNoticeAway = (id: string) => call(z.unknown(), `/api/notices/${id}/away`, {});
export const leave = () => call(z.unknown(), "/api/leave", {});
export const fetchState = () => call(stateSchema, "/api/state");
export const fetchShot = (id: string): Promise<ShotDocument> => call(shotSchema, `/api/shots/${id}`);
export const sendEdit = (id: string, e: EditRequest) => call(editAnswerSchema, `/api/shots/${id}/edits`, e);
export const sendStep = (id: string, s: StepRequest) => call(editAnswerSchema, `/api/shots/${id}/steps`, s);
export const fetchHistory = (id: string) => call(historySchema, `/api/shots/${id}/history`);
export const fetchPreferences = () => call(preferencesSchema, "/api/preferences");
export const storePreferences = (p: Preferences) => call(preferencesSchema, "/api/preferences", p);
export const fetchRenders = (id: string): Promise<Job[]> => call(jobSchema.array(), `/api/shots/${id}/renders`);
export const startRender = (id: string, q: RenderWish): Promise<Job> => call(jobSchema, `/api/shots/${id}/renders`, q);
export const stopJob = (id: string) => fetch(`/api/jobs/${id}/stop`, { method: "POST" });
export const runAgain = (id: string) => call(jobSchema, `/api/jobs/${id}/again`, {});

export const cutShot = (id: string, frames: number[]) => call(z.object({ ids: z.array(z.string()) }), `/api/shots/${id}/cut`, { frames });
export const fetchNext = (id: string) => call(z.object({ name: z.string().nullable() }), `/api/shots/${id}/join`);
export const joinNext = (id: string) => call(z.unknown(), `/api/shots/${id}/join`, {});
export const orderStills = (id: string, reversed: boolean, rate: Rate) => call(z.unknown(), `/api/takes/${id}/order`, { reversed, rate });
export const fetchSurvey = (takeId: string) => call(surveyAnswerSchema, `/api/takes/${takeId}/survey`);
export const findThing = (id: string, q: { at: number; outline: number[][]; work: string }) => call(seenSchema, `/api/shots/${id}/find`, q);
export const buildPlate = (id: string, q: { take: string; built: BuiltFrom; work: string }) => call(builtInfoSchema, `/api/shots/${id}/build`, q);
export const alignTake = (id: string, q: { take: string; at: number; frame: number; avoid: number[][][]; work: string }) =>
  call(alignedSchema, `/api/shots/${id}/align`, q);
export const colourAround = (id: string, frame: number, outline: number[][]) =>
  call(colourAnswerSchema, `/api/shots/${id}/colour`, { frame, outline });
export const writeOutside = (id: string, q: { plate: string; kind: string; frame: number }) =>
  call(outsideAnswerSchema, `/api/shots/${id}/outside`, q);
export const endOutside = (id: string, plate: string) => call(outsideAnswerSchema, `/api/shots/${id}/outside/end`, { plate });
export const fetchOutside = (id: string, plate: string) => call(outsideAnswerSchema, `/api/shots/${id}/outside?${new URLSearchParams({ plate })}`);
export const stopTask = (work: string) => call(z.unknown(), `/api/doing/${work}/stop`, {});

export const parseStale = (e: ApiError) => (e.status === 409 ? (staleAnswerSchema.safeParse(e.body).data ?? null) : null);

/** Sends a file; `progress` gets the bytes sent. */
function sendFile(path: string, file: File, progress: (bytes: number) => void): Promise<unknown> {
  return new Promise((resolve, reject) => {
    const x = new XMLHttpRequest();
    x.open("POST", path);
    x.upload.onprogress = (e) => progress(e.loaded);
    x.onerror = () => reject(new ApiError(0, `“${file.name}” could not be sent: Umber Moth is not answering.`));
    x.onload = () => {
      try {
        const value = JSON.parse(x.responseText) as unknown;
        if (x.status < 300) resolve(value);
        else reject(new ApiError(x.status, (value as { error?: string }).error ?? "Something failed."));
      } catch {
        reject(new ApiError(x.status, `“${file.name}” could not be taken in.`));
      }
    };
    x.send(file);
  });
}

/** Sends a film as a new take; `progress` gets the share sent, 0–1. */
export async function uploadTake(file: File, productionId: string | null, progress: (share: number) => void): Promise<Take> {
  const q = new URLSearchParams({ name: file.name, ...(productionId ? { production: productionId } : {}) });
  return takeSchema.parse(await sendFile(`/api/takes?${q}`, file, (n) => progress(n / file.size)));
}

/** Sends a picture to be used as a plate. */
export const uploadPicture = async (file: File) =>
  pictureAnswerSchema.parse(await sendFile(`/api/pictures?${new URLSearchParams({ name: file.name })}`, file, () => undefined));

/** Sends numbered stills, one after another, as one new take. */
export async function uploadStills(
  files: File[],
  name: string,
  rate: Rate,
  productionId: string | null,
  progress: (share: number) => void,
): Promise<Take> {
  const id = uuid();
  const total = files.reduce((n, f) => n + f.size, 0);
  let sent = 0;
  for (const f of files) {
    await sendFile(`/api/stills/${id}?${new URLSearchParams({ name: f.name })}`, f, (n) => progress((sent + n) / total));
    sent += f.size;
  }
  return call(takeSchema, "/api/stills", { id, productionId, name, rate });
}

export const quickUrl = (takeId: string, n: number) => `/api/takes/${takeId}/quick/${n}`;
/** A picture that is no frame, by the hash of its key, on the planes of a shot's take. */
export const pictureUrl = (shotId: string, key: string) => `/api/shots/${shotId}/picture?hash=${bytesToHex(sha256(utf8ToBytes(key)))}`;
/** The values of a picture as a mask: its alpha or its brightness. */
export const maskUrl = (shotId: string, asset: string, use: string) => `/api/shots/${shotId}/mask?${new URLSearchParams({ asset, use })}`;
/** The sound of a take from frame `a` to frame `b`. */
export const soundUrl = (takeId: string, a: number, b: number) =>
  `/api/takes/${takeId}/sound?${new URLSearchParams({ from: String(a), to: String(b) })}`;
export const exactUrl = (takeId: string, n: number) => `/api/takes/${takeId}/frames/${n}`;
