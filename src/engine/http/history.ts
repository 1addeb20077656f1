import { soundQuerySchema, stepRequestSchema } from "../../wire/shot";
import { preferencesSchema } from "../../wire/preferences";
import type { Parts } from "../compose";
import { takeSound } from "../media/take-sound";
import type { Route } from "./route";

/** What the editor asks for beside documents and plates: steps of the history, sound to be played, how somebody likes to work. */
export const historyRoutes = ({ documents, takes, tell, settings }: Parts): Route[] => [
  [
    "POST",
    /^\/shots\/([\w-]+)\/steps$/,
    async ({ params: [id], body }) => {
      const answer = await documents.steps(id, stepRequestSchema.parse(body));
      tell({ type: "shot", id, rev: answer.rev });
      return answer;
    },
  ],
  ["GET", /^\/shots\/([\w-]+)\/history$/, ({ params: [id] }) => documents.past(id)],
  [
    "GET",
    /^\/takes\/([\w-]+)\/sound$/,
    async ({ params: [id], query, res }) => {
      const { from, to } = soundQuerySchema.parse(Object.fromEntries(query));
      await takes.whole([id]);
      const sound = await takeSound(await takes.index(id), from, to);
      res.writeHead(200, { "content-type": "audio/flac", "content-length": sound.length }).end(sound);
      return undefined;
    },
  ],
  ["GET", /^\/preferences$/, () => Promise.resolve(settings.now.preferences ?? preferencesSchema.parse({}))],
  [
    "POST",
    /^\/preferences$/,
    async ({ body }) => {
      const next = preferencesSchema.parse(body);
      await settings.set({ preferences: next });
      return next;
    },
  ],
];
