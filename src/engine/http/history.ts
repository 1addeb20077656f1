import { preferencesSchema } from "../../wire/preferences";
import type { Parts } from "../compose";
import { takeSound } from "../media/take-sound";
import type { Answers } from "./answer";

/** What the editor asks for beside documents and plates: steps of the history, sound to be played, how somebody likes to work. */
export const historyAnswers = ({
  documents,
  takes,
  tell,
  settings,
}: Parts): Pick<Answers, "step" | "history" | "sound" | "preferences" | "storePreferences"> => ({
  async step({ params: { id }, body }) {
    const answer = await documents.steps(id, body);
    tell({ type: "shot", id, rev: answer.rev });
    return answer;
  },
  history: ({ params: { id } }) => documents.past(id),
  async sound({ params: { id }, query: { from, to } }) {
    await takes.whole([id]);
    const sound = await takeSound(await takes.index(id), from, to);
    return new Response(new Uint8Array(sound), { headers: { "content-type": "audio/flac" } });
  },
  preferences: () => Promise.resolve(settings.now.preferences ?? preferencesSchema.parse({})),
  async storePreferences({ body }) {
    await settings.set({ preferences: body });
    return body;
  },
});
