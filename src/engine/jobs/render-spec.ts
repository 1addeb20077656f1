import { basename, dirname } from "node:path";
import { z } from "zod";
import type { Recipe } from "../../core/document/recipe";
import { CODECS } from "../../wire/formats";
import { hashSchema } from "../../wire/ids";
import { WRITTEN } from "../../wire/job";
import { pixelFormatSchema } from "../../wire/take";
import { storedJson } from "../stored-json";
import type { RenderJob } from "./kinds/render";

/** A render as it is stored: all that its process is told, and the revision of the shot it was made of. */
export type StoredRender = RenderJob & { rev: number };

const pictureName = z.union([
  z.object({ asset: z.string() }),
  z.object({ built: z.string(), width: z.number(), height: z.number(), format: pixelFormatSchema }),
]);
const common = {
  recipe: z.custom<Recipe>((v) => typeof v === "object" && v !== null),
  rev: z.number(),
  codec: z.enum(CODECS),
  preset: z.string(),
  crf: z.number(),
  what: z.enum(WRITTEN).default("result"),
  convert: z.boolean(),
  look: z.object({ data: hashSchema, strength: z.number() }).optional(),
};
const stored = z.object({
  ...common,
  job: z.string(),
  takes: z.record(z.string(), z.string()),
  pictures: z.record(z.string(), pictureName),
  file: z.string(),
  stills: z.string().optional(),
});

/** As earlier versions stored it, with paths of the machine; the names of the files tell all that is needed. */
const withPaths = z.object({
  ...common,
  takes: z.record(z.string(), z.object({ id: z.string() })),
  pictures: z
    .record(
      z.string(),
      z.union([z.object({ file: z.string() }), z.object({ raw: z.string(), width: z.number(), height: z.number(), format: pixelFormatSchema })]),
    )
    .default({}),
  out: z.string(),
});

/**
 * What is stored of a render; null where it is damaged.
 * @param job its id
 * @param file the name of what it writes
 */
export function readRender(text: string, job: string, file: string): StoredRender | null {
  const value = storedJson<unknown>(text);
  const now = stored.safeParse(value);
  if (now.success) return now.data;
  const old = withPaths.safeParse(value);
  if (!old.success) return null;
  const { takes, pictures, out, ...rest } = old.data;
  return {
    ...rest,
    job,
    takes: Object.fromEntries(Object.entries(takes).map(([k, t]) => [k, t.id])),
    pictures: Object.fromEntries(
      Object.entries(pictures).map(([k, p]) => {
        if ("file" in p) return [k, { asset: basename(p.file).replace(/\..*$/, "") }];
        const { raw, ...layout } = p;
        return [k, { built: basename(dirname(raw)), ...layout }];
      }),
    ),
    file,
    ...(basename(out) === file ? {} : { stills: basename(out) }),
  };
}
