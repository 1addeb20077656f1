import { UserError } from "@/core/user-error";
import { randomUUID } from "node:crypto";
import { createWriteStream } from "node:fs";
import { mkdir, rm } from "node:fs/promises";
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

/** Largest file that is taken in over the page, in bytes. */
const LIMIT = 200e9;

const querySchema = z.object({
  name: z.string().min(1).max(255),
  production: idSchema.optional(),
});

const incoming = () => join(resolve(process.env.UMBER_DATA || "./data"), "incoming");

/** Streams a body to a file. What does not arrive whole leaves nothing. */
async function receive(req: Request, name: string, path: string): Promise<void> {
  if (!req.body) throw new UserError("invalid", `“${name}” is empty (0 bytes): copy the file again from where it came.`);
  const said = req.headers.get("content-length");
  await assertRoom(name, said === null ? null : Number(said), dirname(path));
  let size = 0;
  const count = new Transform({
    transform(chunk: Buffer, _, done) {
      size += chunk.length;
      done(size > LIMIT ? new UserError("too-large", `“${name}” is larger than ${LIMIT / 1e9} GB.`) : null, chunk);
    },
  });
  try {
    await pipeline(Readable.fromWeb(req.body as Parameters<typeof Readable.fromWeb>[0]), count, createWriteStream(path));
    const expected = Number(req.headers.get("content-length") ?? size);
    if (size !== expected) throw new UserError("invalid", `“${name}” did not arrive whole (${size} of ${expected} bytes): drop it once more.`);
  } catch (e) {
    await rm(path, { force: true });
    if (e instanceof UserError) throw e;
    if ((e as NodeJS.ErrnoException).code === "ENOSPC") throw new UserError("full", `The disk is full: make room, then drop “${name}” once more.`);
    throw e;
  }
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

/** Streams an uploaded film to disk. Nothing passes through memory whole. */
export function receiveTake(req: Request): Promise<Response> {
  const q = querySchema.parse(Object.fromEntries(new URL(req.url).searchParams));
  return handOn(req, q.name, ENDPOINTS.addTake, (path) => ({ productionId: q.production ?? null, name: q.name, path }));
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
