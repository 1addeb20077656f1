import { randomUUID } from "node:crypto";
import { createWriteStream } from "node:fs";
import { mkdir, rm } from "node:fs/promises";
import { join, resolve } from "node:path";
import { Readable, Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { z } from "zod";
import { pass } from "./engine";
import { Refusal } from "./route";

/** Largest file that is taken in over the page, in bytes. */
const LIMIT = 200e9;

const querySchema = z.object({
  name: z.string().min(1).max(255),
  production: z
    .string()
    .regex(/^[0-9a-f-]{36}$/)
    .optional(),
});

/** Streams an uploaded file to disk and hands it to the engine. Nothing passes through memory whole. */
export async function receiveTake(req: Request): Promise<Response> {
  const q = querySchema.parse(Object.fromEntries(new URL(req.url).searchParams));
  if (!req.body) throw new Refusal(400, `“${q.name}” is empty (0 bytes): copy the file again from where it came.`);
  const folder = join(resolve(process.env.UMBER_DATA || "./data"), "incoming");
  await mkdir(folder, { recursive: true });
  const path = join(folder, randomUUID());
  let size = 0;
  const count = new Transform({
    transform(chunk: Buffer, _, done) {
      size += chunk.length;
      done(size > LIMIT ? new Refusal(413, `“${q.name}” is larger than ${LIMIT / 1e9} GB.`) : null, chunk);
    },
  });
  try {
    await pipeline(Readable.fromWeb(req.body as Parameters<typeof Readable.fromWeb>[0]), count, createWriteStream(path));
    const expected = Number(req.headers.get("content-length") ?? size);
    if (size !== expected) throw new Refusal(400, `“${q.name}” did not arrive whole (${size} of ${expected} bytes): drop it once more.`);
    return await pass("/takes", { method: "POST", body: { productionId: q.production ?? null, name: q.name, path } });
  } catch (e) {
    await rm(path, { force: true });
    if (e instanceof Refusal) throw e;
    if ((e as NodeJS.ErrnoException).code === "ENOSPC") throw new Refusal(507, `The disk is full: make room, then drop “${q.name}” once more.`);
    throw e;
  }
}
