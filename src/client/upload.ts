import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex, utf8ToBytes } from "@noble/hashes/utils.js";
import { z } from "zod";
import { pictureAnswerSchema } from "../wire/plate";
import { type Take, takeSchema } from "../wire/take";
import { ApiError, type Rate, read } from "./api";
import { uuid } from "./uuid";

const receivedSchema = z.object({ received: z.number() });

/** Sends a file; `progress` gets the bytes sent. */
function sendFile(path: string, name: string, file: Blob, progress: (bytes: number) => void): Promise<unknown> {
  return new Promise((resolve, reject) => {
    const x = new XMLHttpRequest();
    x.open("POST", path);
    x.upload.onprogress = (e) => progress(e.loaded);
    x.onerror = () => reject(new ApiError(0, `“${name}” could not be sent: Umber Moth is not answering.`));
    x.onload = () => {
      try {
        const value = JSON.parse(x.responseText) as unknown;
        if (x.status < 300) resolve(value);
        else reject(new ApiError(x.status, (value as { error?: string }).error ?? "Something failed.", value));
      } catch {
        reject(new ApiError(x.status, `“${name}” could not be taken in.`));
      }
    };
    x.send(file);
  });
}

/** Waits between two tries when the line is lost, in ms: the first, and the longest. */
const WAITS = { first: 1000, longest: 15_000 };
/** Tries without a byte more before it is given up: some twenty minutes. */
const TRIES = 80;

/** Names a file by what it is, so that the rest of it can follow after the page was closed. */
async function uploadId(file: File, productionId: string | null): Promise<string> {
  const head = new Uint8Array(await file.slice(0, 65_536).arrayBuffer());
  const of = utf8ToBytes(JSON.stringify([file.name, file.size, file.lastModified, productionId]));
  const hex = bytesToHex(sha256(new Uint8Array([...of, ...sha256(head)])));
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20, 32)].join("-");
}

/**
 * Sends a film as a new take; `progress` gets the share that has arrived, 0–1. When the line is lost it goes on by itself where it
 * stopped; after that, when the same file is given once more.
 */
export async function uploadTake(file: File, productionId: string | null, progress: (share: number) => void): Promise<Take> {
  const upload = await uploadId(file, productionId);
  let last = -1;
  let tries = 0;
  for (;;) {
    try {
      const { received } = await read(receivedSchema, "GET", `/uploads/${upload}`);
      const from = Math.min(received, file.size);
      if (from > last) tries = 0;
      last = from;
      const q = new URLSearchParams({ name: file.name, ...(productionId ? { production: productionId } : {}), upload, from: String(from), size: String(file.size) }); // prettier-ignore
      const rest = from ? file.slice(from) : file;
      return takeSchema.parse(await sendFile(`/api/takes?${q}`, file.name, rest, (n) => progress((from + n) / Math.max(1, file.size))));
    } catch (e) {
      const lost = e instanceof ApiError && (e.status === 0 || e.code === "away" || e.code === "stale");
      if (!lost || file.size === 0) throw e;
      if (++tries > TRIES)
        throw new ApiError(0, `“${file.name}” could not be sent: Umber Moth is not answering. Give it once more, and it goes on where it stopped.`);
      await new Promise((go) => setTimeout(go, Math.min(WAITS.longest, WAITS.first * 2 ** (tries - 1))));
    }
  }
}

/** Sends a picture to be used as a plate. */
export const uploadPicture = async (file: File) =>
  pictureAnswerSchema.parse(await sendFile(`/api/pictures?${new URLSearchParams({ name: file.name })}`, file.name, file, () => undefined));

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
    await sendFile(`/api/stills/${id}?${new URLSearchParams({ name: f.name })}`, f.name, f, (n) => progress((sent + n) / total));
    sent += f.size;
  }
  return read(takeSchema, "POST", "/stills", { id, productionId, name, rate });
}
