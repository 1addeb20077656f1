import type { z } from "zod";
import {
  editAnswerSchema,
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
import { takeSchema, type Take } from "../wire/take";

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

export const fetchState = () => call(stateSchema, "/api/state");
export const fetchShot = (id: string): Promise<ShotDocument> => call(shotSchema, `/api/shots/${id}`);
export const sendEdit = (id: string, e: EditRequest) => call(editAnswerSchema, `/api/shots/${id}/edits`, e);
export const sendStep = (id: string, s: StepRequest) => call(editAnswerSchema, `/api/shots/${id}/steps`, s);
export const fetchRenders = (id: string): Promise<Job[]> => call(jobSchema.array(), `/api/shots/${id}/renders`);
export const startRender = (id: string, q: RenderWish): Promise<Job> => call(jobSchema, `/api/shots/${id}/renders`, q);
export const stopJob = (id: string) => fetch(`/api/jobs/${id}/stop`, { method: "POST" });
export const runAgain = (id: string) => call(jobSchema, `/api/jobs/${id}/again`, {});

export const parseStale = (e: ApiError) => (e.status === 409 ? (staleAnswerSchema.safeParse(e.body).data ?? null) : null);

/** Sends a file as a new take; `progress` gets the share sent, 0–1. */
export function uploadTake(file: File, productionId: string | null, progress: (share: number) => void): Promise<Take> {
  return new Promise((resolve, reject) => {
    const x = new XMLHttpRequest();
    const q = new URLSearchParams({ name: file.name, ...(productionId ? { production: productionId } : {}) });
    x.open("POST", `/api/takes?${q}`);
    x.upload.onprogress = (e) => e.lengthComputable && progress(e.loaded / e.total);
    x.onerror = () => reject(new ApiError(0, `“${file.name}” could not be sent: Umber Moth is not answering.`));
    x.onload = () => {
      try {
        const value = JSON.parse(x.responseText) as unknown;
        if (x.status < 300) resolve(takeSchema.parse(value));
        else reject(new ApiError(x.status, (value as { error?: string }).error ?? "Something failed."));
      } catch {
        reject(new ApiError(x.status, `“${file.name}” could not be taken in.`));
      }
    };
    x.send(file);
  });
}

export const quickUrl = (takeId: string, n: number) => `/api/takes/${takeId}/quick/${n}`;
export const exactUrl = (takeId: string, n: number) => `/api/takes/${takeId}/frames/${n}`;
