import { takeIds } from "../../recipe/query";
import { NAME_HEADER } from "../../wire/layout";
import type { Parts } from "../compose";
import type { Answers } from "./answer";

/** Shots: their documents, edits, and single pictures of them. */
export const shotAnswers = ({
  shots,
  originals,
  documents,
  takes,
  filling,
  log,
  tell,
}: Parts): Pick<Answers, "shot" | "exported" | "edit" | "still"> => ({
  async shot({ params: { id } }) {
    const before = await shots.document(id);
    for (const t of Object.values(before.takes)) await originals.check(t.id);
    const doc = await shots.document(id);
    const take = doc.takes[doc.recipe.shot.take];
    if (take.state === "ready") void filling.begin(take.id, doc.recipe.shot.in, doc.recipe.shot.out).catch((e: unknown) => log.warn(e));
    return doc;
  },
  exported: ({ params: { id } }) => shots.exported(id),
  async edit({ params: { id }, body }) {
    const answer = await documents.edit(id, body);
    tell({ type: "shot", id, rev: answer.rev });
    return answer;
  },
  async still({ params: { id }, query: q }) {
    await takes.whole(takeIds((await documents.read(id)).recipe));
    const { png, name } = await shots.still(id, q.what, q.frame, q.layer ?? q.plate);
    return new Response(new Uint8Array(png), { headers: { "content-type": "image/png", [NAME_HEADER]: encodeURIComponent(name) } });
  },
});
