import { outputOf } from "../../core/document/recipe";
import { frameInLook } from "../../core/look/frame";
import { lookOf } from "../../core/look/look";
import { bytesOf, type Frame } from "../../core/pixels/frame";
import { reviewed, reviewWidth } from "../../core/pixels/review";
import { ff, file } from "../media/arguments";
import type { FrameStore } from "../media/frame-store";
import { secondsAt } from "../media/index-file";
import { packBgra } from "../media/packed";
import { composed } from "./composer";
import { encoderArgs } from "./encoder";
import { INTERLEAVED } from "./layout";
import { soundArgs } from "./sound";
import type { RenderSpec } from "./spec";
import type { Watch } from "../watch";
import { timedHeader, timedPrefix } from "./timed-raw";
import { findWindow, windowedVideo } from "./windowed";
import { writeVideo } from "./write-video";
import type { Film } from "../../wire/formats";

/** Renders to a video file: by the window that changes where that is possible, else frame by frame through us. */
export async function renderVideo(spec: RenderSpec, codec: Film, store: FrameStore, hooks: Watch): Promise<string[]> {
  const own = spec.takes[spec.recipe.shot.take].index;
  const review = spec.what === "review";
  const take = review ? { ...own, info: { ...own.info, width: reviewWidth(own.info.width) } } : own;
  const range = outputOf(spec.recipe);
  const enc = encoderArgs({ ...spec, codec }, take, range);
  const { look: wanted } = spec;
  const look = wanted && lookOf(wanted.table);
  // a look is on all of the picture
  const window = review || look ? null : await findWindow(spec);
  if (window) return windowedVideo(spec, window, enc, store, hooks);
  const sound = soundArgs(take, range, spec.out, 1);
  const filter = enc.filters.length ? ff`-vf ${enc.filters}` : ff``;
  await writeVideo(
    spec.out,
    (part) => ff`${sound.offset} ${enc.input} -i pipe:0 ${sound.input} -map 0:v:0 ${enc.output} ${filter} ${sound.output} ${part}`,
    hooks,
    async ({ child, write }) => {
      const { info } = take;
      const to = child.stdin!;
      if (info.variableRate) await write(to, timedHeader(info.width, info.height, info.format));
      const full = info.colour.range === "full";
      for await (const { n, frame: mended, before } of composed(spec, store, hooks, review)) {
        const looked = (f: Frame) => (look ? frameInLook(f, info.colour, look, wanted.strength) : f);
        const frame = before ? reviewed(looked(before), looked(mended), n, full) : looked(mended);
        const bytes = spec.codec === "ffv1" && info.planar in INTERLEAVED ? packBgra(bytesOf(frame)) : bytesOf(frame);
        if (info.variableRate && !(await write(to, timedPrefix(secondsAt(take, n) - secondsAt(take, range.in), bytes.length)))) break;
        if (!(await write(to, bytes))) break;
      }
    },
  );
  // an encoder takes no flag along: the streams are copied once more, with it
  const flag = enc.turned;
  if (flag)
    await writeVideo(
      spec.out,
      (part) => ff`-i ${file(spec.out)} -map 0:v:0 -map 0:a? -c copy ${flag} ${part}`,
      hooks,
      () => Promise.resolve(),
    );
  const seen = wanted
    ? [`It is in the look${wanted.table.title ? ` “${wanted.table.title}”` : ""}, ${Math.round(100 * wanted.strength)} % of it.`]
    : [];
  return [...seen, ...enc.notes, ...sound.notes];
}
