import { createHash } from "node:crypto";
import type { Place } from "../../core/follow/homography";
import { bytesOf } from "../../core/pixels/frame";
import { shotTakeId } from "../../recipe/query";
import { MEASURED_HEADER, PICTURE_HEADER } from "../../wire/layout";
import type { Parts } from "../compose";
import { NotFound, NotYet } from "../db/documents";
import { MediaError } from "../media/media-error";
import { pictureKeys } from "../render/pictures";
import { type Answers, samples } from "./answer";
import { wholeShot, wholeTake } from "./whole-shot";

const sha256 = (text: string) => createHash("sha256").update(text).digest("hex");

type Names = "measured" | "survey" | "stopTask" | "find" | "build" | "align" | "colour" | "picture" | "maskPicture" | "addPicture" | "outside" | "writeOutside" | "endOutside"; // prettier-ignore

/** What is asked about surveys, about where things are seen, and about plates. */
export function plateAnswers({ documents, shots, takes, plates, surveys, runner, tasks, measured, outside }: Parts): Pick<Answers, Names> {
  const asked = { documents, takes, shots };
  const whole = (id: string) => wholeShot(asked, id);
  return {
    async survey({ params: { id } }) {
      const survey = await surveys.get(id);
      if (!survey && !takes.reading(id)) void surveys.begin(id);
      return survey ? { survey, first: null, state: null } : { survey, first: await surveys.first(id), state: surveys.state(id) };
    },
    stopTask({ params: { id } }) {
      tasks.stop(id);
      return Promise.resolve({});
    },
    async find({ params: { id }, body: q }) {
      const { recipe, files } = await whole(id);
      const { take, in: first, out: last } = recipe.shot;
      if (q.at < first || q.at > last) throw new MediaError(`Frame ${q.at} lies outside the shot, which has frames ${first} to ${last}.`);
      return tasks.run(q.task, (watch) =>
        runner.run("find", { take: files[take].id, in: first, out: last, at: q.at, outline: q.outline.map(([x, y]): Place => [x, y]) }, watch),
      );
    },
    async build({ params: { id }, body: q }) {
      const take = await wholeTake(asked, id, q.take);
      return tasks.run(q.task, (watch) => plates.built(take, q.built, watch));
    },
    async align({ params: { id }, body: q }) {
      const { recipe } = await documents.read(id);
      if (!(await takes.there(q.take))) throw new NotFound("This take does not exist (any more).");
      const shot = shotTakeId(recipe);
      await takes.whole([shot, q.take]);
      return tasks.run(q.task, (watch) => runner.run("align", { shot, at: q.at, other: q.take, frame: q.frame, avoid: q.avoid }, watch));
    },
    async colour({ params: { id }, body: q }) {
      const { recipe, files } = await whole(id);
      const shot = files[recipe.shot.take];
      return runner.run("colour", { take: shot.id, n: q.frame, outline: q.outline });
    },
    async picture({ params: { id }, query: { hash } }) {
      // what the shot uses, and nothing else, is worked out for a request
      const key = pictureKeys((await documents.read(id)).recipe).find((k) => sha256(k) === hash);
      if (key === undefined) throw new NotYet("The shot uses no such picture (yet).");
      const { recipe, files } = await whole(id);
      const f = await plates.frame(key, files, files[recipe.shot.take]);
      return samples(bytesOf(f), PICTURE_HEADER, { width: f.width, height: f.height, format: f.format });
    },
    async maskPicture({ params: { id }, query: { asset, use } }) {
      const v = await shots.maskValues(id, asset, use);
      return samples(v.data, PICTURE_HEADER, { width: v.width, height: v.height });
    },
    async measured({ params: { hash } }) {
      const { head, data } = await measured.get(hash);
      return samples(data, MEASURED_HEADER, head);
    },
    addPicture: ({ body }) => plates.add(body.path, body.name),
    outside: async ({ params: { id }, query }) => ({ path: await outside.path(id, query.plate) }),
    async writeOutside({ params: { id }, body: q }) {
      await whole(id);
      return { path: await outside.write(id, q.plate, q.kind, q.frame, () => shots.plateForJob(id, q.plate)) };
    },
    async endOutside({ params: { id }, body }) {
      await outside.end(id, body.plate);
      return { path: null };
    },
  };
}
