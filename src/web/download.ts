import { UserError } from "@/core/user-error";
import { createReadStream } from "node:fs";
import { readdir, stat } from "node:fs/promises";
import { extname, join } from "node:path";
import { mediaType } from "@/wire/formats";
import { Readable } from "node:stream";
import yazl from "yazl";
import { ENDPOINTS } from "@/wire/endpoints";
import { answered, engine } from "./engine";

/** A finished render for the browser: the file, or a zip of a sequence's stills. Streamed. */
export async function downloadRender(id: string): Promise<Response> {
  const job = await answered(ENDPOINTS.rendered, { id });
  if (job.state !== "done") throw new UserError("busy", "This render is not finished; there is nothing to download yet.");
  const s = await stat(job.path).catch(() => {
    throw new UserError("missing", "The rendered file is not there any more: render it again.");
  });
  const headers = (name: string, type: string) => ({
    "content-type": type,
    "cache-control": "no-store",
    "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
  });
  if (!s.isDirectory()) {
    const type = mediaType(extname(job.file));
    return new Response(Readable.toWeb(createReadStream(job.path)) as ReadableStream, {
      headers: { ...headers(job.file, type), "content-length": String(s.size) },
    });
  }
  const zip = new yazl.ZipFile();
  for (const f of (await readdir(job.path)).sort()) zip.addFile(join(job.path, f), `${job.file}/${f}`, { compress: false });
  zip.end();
  return new Response(Readable.toWeb(Readable.from(zip.outputStream)) as ReadableStream, { headers: headers(`${job.file}.zip`, "application/zip") });
}

/** A recipe as a file; where it uses pictures that were brought in, or what was measured, as a zip with them. */
export async function downloadRecipe(shotId: string): Promise<Response> {
  const { name, recipe, measured, pictures } = await answered(ENDPOINTS.exported, { id: shotId });
  const text = JSON.stringify(recipe, null, 2) + "\n";
  const headers = (type: string, end: string) => ({
    "content-type": type,
    "cache-control": "no-store",
    "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(name)}.recipe.${end}`,
  });
  if (!pictures.length && !measured.length) return new Response(text, { headers: headers("application/json", "json") });
  const zip = new yazl.ZipFile();
  zip.addBuffer(Buffer.from(text), `${name}.recipe.json`);
  for (const p of pictures) zip.addFile(p.path, p.name, { compress: false });
  for (const hash of measured) zip.addBuffer(Buffer.from(await (await engine(ENDPOINTS.measured, { hash })).arrayBuffer()), `measured/${hash}`);
  zip.end();
  return new Response(Readable.toWeb(Readable.from(zip.outputStream)) as ReadableStream, { headers: headers("application/zip", "zip") });
}
