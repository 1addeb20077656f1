import { cutoutsIn } from "../../recipe/assets";
import { cameraTrack } from "../../core/plate/follow";
import { fitMap } from "../../core/follow/fit-map";
import { times } from "../../core/follow/homography";
import { joined, readTrack, TRACK_METHOD, type TrackData, trackText } from "../../core/follow/track-data";
import type { CameraRound } from "../analysis/camera-round";
import type { Parts } from "../compose";
import { NotYet } from "../db/documents";
import { madeOf } from "../library/measured";
import { MediaError } from "../media/media-error";
import type { Answers } from "./answer";
import { wholeTake, withinTake } from "./whole-shot";

/** Following regions of takes. */
export const followAnswers = ({ runner, tasks, measured, surveys, ...parts }: Parts): Pick<Answers, "follow" | "camera"> => ({
  async camera({ params: { id }, body: { take: key, at: asked, round } }) {
    const take = await wholeTake(parts, id, key);
    const survey = await surveys.get(take.id);
    if (!survey) throw new NotYet("What the camera does is being measured: ask again when that is done.");
    const at = Math.min(asked, take.index.info.frames - 1);
    const camera = cameraTrack(survey.stillness.perFrame, at, take.index.info, survey.cuts);
    let fitted: CameraRound | null = null;
    if (round) {
      const { task, ...ask } = round;
      await measured.lay(cutoutsIn([ask.mask]));
      fitted = await tasks.run(task, (watch) => runner.run("cameraRound", { take: take.id, at, camera: camera.frames, ...ask }, watch));
    }
    const frames = fitted?.frames ?? camera.frames;
    const model = fitted ? "affine" : camera.model;
    const head = { kind: "track", method: TRACK_METHOD, of: madeOf(take, { at, ...round }, null, frames) } as const;
    const data = await measured.put(head, new TextEncoder().encode(trackText(frames)));
    return { data, in: frames[0].f, out: frames[frames.length - 1].f, model, stops: [], fitted: fitted?.fitted ?? null };
  },
  async follow({ params: { id }, body: { take: key, task, on, ...ask } }) {
    const take = await wholeTake(parts, id, key);
    const spec = withinTake(take, ask);
    const { frames, model } = await tasks.run(task, (watch) => runner.run("follow", { take: take.id, ...spec }, watch));
    const known = on ? readTrack(new TextDecoder().decode((await measured.get(on.data)).data)) : [];
    const put = on && fitMap(on.region, spec.region);
    if (on && !put) throw new MediaError("The corners lie on a line: put them around the region again.");
    // what was put by hand leads from the track's own frame to where it is gone on from
    const more: TrackData = put ? frames.map((t) => ("matrix" in t ? { ...t, matrix: times(t.matrix, put) } : t)) : frames;
    const all = joined(known, more);
    const seen = all.filter((t) => "matrix" in t);
    const of = madeOf(take, spec, on ?? null, all);
    const head = { kind: "track", method: TRACK_METHOD, of } as const;
    return {
      data: await measured.put(head, new TextEncoder().encode(trackText(all))),
      in: seen[0].f,
      out: seen[seen.length - 1].f,
      model,
      stops: frames.flatMap((t) => ("stopped" in t ? [{ f: t.f, why: t.stopped }] : [])),
    };
  },
});
