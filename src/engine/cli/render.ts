import { type Codec, CODECS, PRESETS } from "../../wire/formats";
import { asListed, type Opening, readRecipe, rendersInOnePass, resolvePictures, resolveTakes } from "../render/recipe-file";
import { render } from "../render/render";
import { WRITTEN, type Written } from "../../wire/job";
import { stretchOnly } from "../render/stretch";

import { Usage, options, whole } from "./usage";
import { withStore } from "./store";

/** `umber render RECIPE.json --out FILE …` */
export async function renderCommand(args: string[]): Promise<void> {
  const { values, rest } = options(args, {
    out: "string",
    codec: "string",
    preset: "string",
    crf: "string",
    only: "string",
    handles: "string",
    convert: "boolean",
  });
  if (rest.length !== 1) throw new Usage("render needs one RECIPE.json");
  if (typeof values.out !== "string" || !values.out) throw new Usage("render needs --out FILE");
  const out = values.out;
  const codec = (values.codec ?? (/\.png$/i.test(out) ? "png" : /\.tiff?$/i.test(out) ? "tiff" : "h264")) as Codec;
  if (!CODECS.includes(codec)) throw new Usage(`--codec was “${codec}”; allowed are h264, prores, ffv1, vp9 (png and tiff by the name of FILE)`);
  const preset = String(values.preset ?? "medium");
  if (!(PRESETS as readonly string[]).includes(preset)) throw new Usage(`--preset was “${preset}”; allowed are ${PRESETS.join(", ")}`);
  const crf = values.crf === undefined ? 18 : whole("crf", values.crf, 0, 51);
  const what = String(values.only ?? "result") as Written;
  if (!WRITTEN.includes(what)) throw new Usage(`--only was “${what}”; allowed are patch, matte, review`);
  const handles = values.handles === undefined ? null : whole("handles", values.handles, 0, 100_000);
  const given = await readRecipe(rest[0]);
  const recipe = handles === null ? given : stretchOnly(given, handles);
  const stop = new AbortController();
  process.once("SIGINT", () => stop.abort()).once("SIGTERM", () => stop.abort());
  const notes = await withStore(async (store, folder) => {
    const write = async (how: Opening) => {
      const takes = await resolveTakes(recipe, rest[0], folder, how);
      const pictures = await resolvePictures(recipe, rest[0], takes, store);
      const said = Object.values(takes).flatMap((t) => (t.index.sequence ? t.index.info.notes : []));
      const more = await render({ recipe, takes, pictures, out, codec, preset, crf, what, convert: values.convert === true }, store, {
        signal: stop.signal,
        progress: (done, total) => {
          if (process.stderr.isTTY) process.stderr.write(`\r${done} of ${total} frames`);
          else if (done === total || done % 24 === 0) process.stderr.write(`${done} of ${total} frames\n`);
        },
      });
      return [...pictures.notes, ...said, ...more];
    };
    return what === "result" && rendersInOnePass(recipe) ? asListed(write) : write("read");
  });
  if (process.stderr.isTTY) process.stderr.write("\n");
  notes.forEach((n) => process.stderr.write(`${n}\n`));
}
