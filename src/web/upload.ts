import { UserError } from "@/core/user-error";
import { randomUUID } from "node:crypto";
import { createWriteStream } from "node:fs";
import { mkdir, rm, stat } from "node:fs/promises";
import { dirname, join, resolve } from "node:path";
import { Readable, Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { z } from "zod";
import { idSchema } from "@/wire/ids";
import { addStillsSchema } from "@/wire/media";
import type { Endpoint, Params } from "@/wire/endpoint";
import { ENDPOINTS } from "@/wire/endpoints";
import { engine, passOn } from "./engine";
import { assertRoom } from "./room";
import { jsonBody } from "./route";
import { UPLOAD_PREFIX } from "@/wire/layout";

/** Largest file that is taken in over the page, in bytes. */
const LIMIT = 200e9;

const querySchema = z.object({
  name: z.string().min(1).max(255),
  production: idSchema.optional(),
});

/** A part of a film: what belongs together by its id, where the part begins, and how large the whole is, in bytes. */
const partSchema = z.object({ upload: idSchema, from: z.coerce.number().int().min(0), size: z.coerce.number().int().min(0) });
type Part = z.infer<typeof partSchema>;

const incoming = () => join(resolve(process.env.UMBER_DATA || "./data"), "incoming");

const empty = (name: string) => new UserError("refused", `“${name}” is empty (0 bytes): copy the file again from where it came.`);
const tooLarge = (name: string) => new UserError("too-large", `“${name}” is larger than ${LIMIT / 1e9} GB.`);

interface Append {
  /** Anew, or behind what is there. */
  flags: "w" | "a";
  /** Bytes that may come. */
  most: number;
  signal?: AbortSignal;
}

/** Writes a body to a file. @returns how many bytes came */
async function append(req: Request, name: string, path: string, { flags, most, signal }: Append): Promise<number> {
  let size = 0;
  const count = new Transform({
    transform(chunk: Buffer, _, done) {
      size += chunk.length;
      done(size > most ? tooLarge(name) : null, chunk);
    },
  });
  try {
    await pipeline(Readable.fromWeb(req.body as Parameters<typeof Readable.fromWeb>[0]), count, createWriteStream(path, { flags, mode: 0o600 }), {
      signal,
    });
    return size;
  } catch (e) {
    if ((e as NodeJS.ErrnoException).code === "ENOSPC") throw new UserError("full", `The disk is full: make room, then drop “${name}” once more.`);
    throw e;
  }
}

/** Streams a body to a file. What does not arrive whole leaves nothing. */
async function receive(req: Request, name: string, path: string): Promise<void> {
  if (!req.body) throw empty(name);
  const said = req.headers.get("content-length");
  await assertRoom(name, said === null ? null : Number(said), dirname(path));
  try {
    const size = await append(req, name, path, { flags: "w", most: LIMIT });
    const expected = Number(said ?? size);
    if (size !== expected) throw new UserError("invalid", `“${name}” did not arrive whole (${size} of ${expected} bytes): drop it once more.`);
  } catch (e) {
    await rm(path, { force: true });
    throw e;
  }
}

const partFile = (upload: string) => join(incoming(), `${UPLOAD_PREFIX}${upload}`);
const sizeOf = async (path: string) => (await stat(path).catch(() => null))?.size ?? 0;

/** Uploads that are being written in this process: what breaks them off, and when that has happened. */
interface Writing {
  stop: AbortController;
  ended: Promise<unknown>;
}
const writing = ((globalThis as { umberUploads?: Map<string, Writing> }).umberUploads ??= new Map<string, Writing>());

/** The newest part counts: one before it may hang on a line that is lost and does not know it. */
async function inTurn<T>(upload: string, work: (signal: AbortSignal) => Promise<T>): Promise<T> {
  for (let before; (before = writing.get(upload));) {
    before.stop.abort();
    await before.ended;
  }
  const stop = new AbortController();
  const going = work(stop.signal);
  const ended = going.catch(() => undefined).finally(() => writing.delete(upload));
  writing.set(upload, { stop, ended });
  return going;
}

/** How many bytes of an upload have arrived. */
export const received = async (upload: string): Promise<Response> => Response.json({ received: await sizeOf(partFile(upload)) });

/** Streams a part of a film behind the parts before it. What has arrived stays, so that the rest can follow after a break. @returns the whole file */
async function receivePart(req: Request, name: string, { upload, from, size }: Part): Promise<string> {
  const path = partFile(upload);
  if (size > LIMIT) throw tooLarge(name);
  if (size === 0) throw empty(name);
  return inTurn(upload, async (signal) => {
    const there = await sizeOf(path);
    if (there !== from) throw new UserError("stale", `“${name}” goes on at byte ${there}.`);
    await assertRoom(name, size - from, dirname(path));
    const whole = from + (req.body && from < size ? await append(req, name, path, { flags: "a", most: size - from, signal }) : 0);
    if (whole !== size) throw new UserError("away", `“${name}” has not arrived whole yet (${whole} of ${size} bytes).`);
    return path;
  });
}

/** Streams a body to disk and hands it to the engine, whose answer is the answer. */
async function handOn<P extends "/takes" | "/pictures">(
  req: Request,
  name: string,
  to: Endpoint<P>,
  body: (path: string) => object,
): Promise<Response> {
  await mkdir(incoming(), { recursive: true });
  const path = join(incoming(), randomUUID());
  await receive(req, name, path);
  try {
    return passOn(await engine(to, {} as Params<P>, { body: body(path) }));
  } catch (e) {
    await rm(path, { force: true });
    throw e;
  }
}

/** Streams an uploaded film to disk, whole or part by part. Nothing passes through memory whole. */
export async function receiveTake(req: Request): Promise<Response> {
  const query = Object.fromEntries(new URL(req.url).searchParams);
  const q = querySchema.parse(query);
  const body = (path: string) => ({ productionId: q.production ?? null, name: q.name, path });
  if (!("upload" in query)) return handOn(req, q.name, ENDPOINTS.addTake, body);
  const part = partSchema.parse(query);
  await mkdir(incoming(), { recursive: true });
  const path = await receivePart(req, q.name, part);
  // where the engine is away, the file waits for it
  const answer = await engine(ENDPOINTS.addTake, {}, { body: body(path) });
  if (!answer.ok) await rm(path, { force: true });
  return passOn(answer);
}

/** Streams an uploaded picture to disk. */
export function receivePicture(req: Request): Promise<Response> {
  const { name } = querySchema.parse(Object.fromEntries(new URL(req.url).searchParams));
  return handOn(req, name, ENDPOINTS.addPicture, (path) => ({ name, path }));
}

/** Names a still may have on disk: what it was called, without anything that could lead elsewhere. */
const stillName = z.string().regex(/^[^/\\\0]{1,200}\.(png|tiff?|jpe?g)$/i, "a name such as frame.0001.png is allowed");

/** Streams one of many stills into their folder. */
export async function receiveStill(req: Request, id: string): Promise<Response> {
  const name = stillName.parse(new URL(req.url).searchParams.get("name"));
  const folder = join(incoming(), id);
  await mkdir(folder, { recursive: true });
  await receive(req, name, join(folder, name));
  return Response.json({});
}

const finishSchema = addStillsSchema.omit({ folder: true }).extend({ id: idSchema });

/** Hands the folder of stills to the engine. */
export async function finishStills(req: Request): Promise<Response> {
  const { id, ...q } = finishSchema.parse(await jsonBody(req));
  return passOn(await engine(ENDPOINTS.addStills, {}, { body: { ...q, folder: join(incoming(), id) } }));
}
