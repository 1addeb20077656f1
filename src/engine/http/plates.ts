import { createHash } from "node:crypto";
import type { Recipe } from "../../core/document";
import { bytesOf } from "../../core/pixels/frame";
import { colourOf } from "../../core/plate/colour";
import { gridOf, grown } from "../../core/plate/regions";
import { PICTURE_HEADER } from "../../wire/layout";
import {
  addPictureSchema,
  alignRequestSchema,
  buildRequestSchema,
  colourRequestSchema,
  findRequestSchema,
  maskQuerySchema,
  outsideEndSchema,
  outsideRequestSchema,
  pictureQuerySchema,
  type SurveyAnswer,
} from "../../wire/plate";
import { NotFound, NotYet } from "../db/documents";
import { MediaError } from "../media/media-error";
import { pictureKeys } from "../render/pictures";
import type { Parts } from "../compose";
import type { Route } from "./route";

const sha256 = (text: string) => createHash("sha256").update(text).digest("hex");

/** Pixels from an outline in which its surroundings' colour is looked at: from a little beyond its edge. */
const RING = { from: 4, to: 24 };

/** What is asked about surveys, about where things are seen, and about plates. */
export function plateRoutes({ documents, shots, takes, plates, surveys, analyses, works, outside, store, paths, renders }: Parts): Route[] {
  const whole = async (recipe: Recipe) => {
    await takes.whole(Object.values(recipe.takes).map((t) => t.asset!));
    return shots.takeFiles(recipe);
  };
  const frames = (takeId: string) => ({ takeId, take: paths.take(takeId), cache: paths.cache, cacheLimit: renders.cacheLimit });
  return [
    [
      "GET",
      /^\/takes\/([\w-]+)\/survey$/,
      async ({ params: [id] }): Promise<SurveyAnswer> => {
        const survey = await surveys.get(id);
        if (!survey && !takes.reading(id)) void surveys.begin(id);
        return { survey, state: survey ? null : surveys.state(id) };
      },
    ],
    [
      "POST",
      /^\/doing\/([\w-]+)\/stop$/,
      ({ params: [id] }) => {
        works.stop(id);
        return Promise.resolve({});
      },
    ],
    [
      "POST",
      /^\/shots\/([\w-]+)\/find$/,
      async ({ params: [id], body }) => {
        const q = findRequestSchema.parse(body);
        const { recipe } = await documents.read(id);
        const { take, in: first, out: last } = recipe.shot;
        await whole(recipe);
        if (q.at < first || q.at > last) throw new MediaError(`Frame ${q.at} lies outside the shot, which has frames ${first} to ${last}.`);
        return works.run(q.work, (progress, signal) =>
          analyses.now(
            { kind: "find", take: paths.take(recipe.takes[take].asset!), in: first, out: last, at: q.at, outline: q.outline },
            progress,
            signal,
          ),
        );
      },
    ],
    [
      "POST",
      /^\/shots\/([\w-]+)\/build$/,
      async ({ params: [id], body }) => {
        const q = buildRequestSchema.parse(body);
        const files = await whole((await documents.read(id)).recipe);
        const take = Object.hasOwn(files, q.take) && files[q.take];
        if (!take) throw new MediaError("The shot does not use this take (any more).");
        return works.run(q.work, (progress, signal) => plates.built(take, q.built, progress, signal));
      },
    ],
    [
      "POST",
      /^\/shots\/([\w-]+)\/align$/,
      async ({ params: [id], body }) => {
        const q = alignRequestSchema.parse(body);
        const { recipe } = await documents.read(id);
        if (!(await takes.there(q.take))) throw new NotFound("This take does not exist (any more).");
        await takes.whole([recipe.takes[recipe.shot.take].asset!, q.take]);
        return works.run(q.work, (progress, signal) =>
          analyses.now(
            { kind: "align", shot: frames(recipe.takes[recipe.shot.take].asset!), at: q.at, other: frames(q.take), frame: q.frame, avoid: q.avoid },
            progress,
            signal,
          ),
        );
      },
    ],
    [
      "POST",
      /^\/shots\/([\w-]+)\/colour$/,
      async ({ params: [id], body }) => {
        const q = colourRequestSchema.parse(body);
        const { recipe } = await documents.read(id);
        const shot = (await whole(recipe))[recipe.shot.take];
        const frame = await store.frame(shot.id, shot.index, q.frame);
        const inside = gridOf(q.outline, frame.width, frame.height, 1);
        const near = grown(inside, RING.from);
        const far = grown(inside, RING.to);
        const at = (x: number, y: number) => Math.floor(y) * frame.width + Math.floor(x);
        const found = colourOf(frame, (x, y) => far.data[at(x, y)] === 1 && near.data[at(x, y)] === 0);
        if (!found)
          throw new MediaError("There is no room around the outline to take a colour from: draw it smaller, or farther from the picture's edge.");
        return found;
      },
    ],
    [
      "GET",
      /^\/shots\/([\w-]+)\/picture$/,
      async ({ params: [id], query, res }) => {
        const { hash } = pictureQuerySchema.parse(Object.fromEntries(query));
        const { recipe } = await documents.read(id);
        // what the shot uses, and nothing else, is worked out for a request
        const key = pictureKeys(recipe).find((k) => sha256(k) === hash);
        if (key === undefined) throw new NotYet("The shot uses no such picture (yet).");
        const files = await whole(recipe);
        const f = await plates.frame(key, files, files[recipe.shot.take]);
        res
          .writeHead(200, {
            "content-type": "application/octet-stream",
            [PICTURE_HEADER]: JSON.stringify({ width: f.width, height: f.height, format: f.format }),
          })
          .end(bytesOf(f));
        return undefined;
      },
    ],
    [
      "GET",
      /^\/shots\/([\w-]+)\/mask$/,
      async ({ params: [id], query, res }) => {
        const { asset, use } = maskQuerySchema.parse(Object.fromEntries(query));
        const v = await shots.maskValues(id, asset, use);
        res
          .writeHead(200, { "content-type": "application/octet-stream", [PICTURE_HEADER]: JSON.stringify({ width: v.width, height: v.height }) })
          .end(new Uint8Array(v.data.buffer, v.data.byteOffset, v.data.byteLength));
        return undefined;
      },
    ],
    [
      "POST",
      /^\/shots\/([\w-]+)\/outside$/,
      async ({ params: [id], body }) => {
        const q = outsideRequestSchema.parse(body);
        await whole((await documents.read(id)).recipe);
        return { path: await outside.write(id, q.plate, q.kind, () => shots.plateParts(id, q.plate, q.frame)) };
      },
    ],
    [
      "POST",
      /^\/shots\/([\w-]+)\/outside\/end$/,
      async ({ params: [id], body }) => {
        await outside.end(id, outsideEndSchema.parse(body).plate);
        return { path: null };
      },
    ],
    ["GET", /^\/shots\/([\w-]+)\/outside$/, async ({ params: [id], query }) => ({ path: await outside.path(id, query.get("plate") ?? "") })],
    [
      "POST",
      /^\/pictures$/,
      ({ body }) => {
        const q = addPictureSchema.parse(body);
        return plates.add(q.path, q.name);
      },
    ],
  ];
}
