import { soundQuerySchema, stepRequestSchema, type Event } from "../../wire/shot";
import { type Preferences, preferencesSchema } from "../../wire/preferences";
import type { Documents } from "../db/documents";
import type { Takes } from "../library/takes";
import { takeSound } from "../media/take-sound";
import type { Route } from "./route";

interface Parts {
  documents: Documents;
  takes: Takes;
  tell: (e: Event) => void;
  preferences: { read: () => Preferences; write: (p: Preferences) => Promise<void> };
}

/** What the editor asks for beside documents and plates: steps of the history, sound to be played, how somebody likes to work. */
export const historyRoutes = ({ documents, takes, tell, preferences }: Parts): Route[] => [
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
  ["GET", /^\/preferences$/, () => Promise.resolve(preferences.read())],
  [
    "POST",
    /^\/preferences$/,
    async ({ body }) => {
      const next = preferencesSchema.parse(body);
      await preferences.write(next);
      return next;
    },
  ],
];
