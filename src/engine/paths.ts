import { join, resolve } from "node:path";
import { UserError } from "../core/user-error";

/** A name that can be no file or folder of ours: nothing is there. */
export class NoSuchName extends UserError {
  constructor() {
    super("missing", "There is nothing of this name.");
  }
}

const NAME = /^[A-Za-z0-9][A-Za-z0-9-]{0,63}$/;

/**
 * A file or folder within `folder` that an id or a hash names: the one place where a name that may have come from a request or
 * a document becomes part of a path. @throws NoSuchName for anything that could lead elsewhere
 */
export function within(folder: string, name: string): string {
  if (typeof name !== "string" || !NAME.test(name)) throw new NoSuchName();
  return join(folder, name);
}

/** A survey beside its take's index; the number is that of its method, so that what an earlier one measured is measured again. */
export const SURVEY_FILE = "survey-3.json";
const FIRST_SURVEY_FILE = "survey-3-first.json";

/** The picture of a built plate in its folder, and what it is made of. */
export const BUILT_PICTURE = "picture.raw";
export const BUILT_INFO = "info.json";

/** Where everything lies below the data folder. */
export function dataPaths(root = process.env.UMBER_DATA || "./data") {
  const data = resolve(root);
  return {
    data,
    database: join(data, "umber.db"),
    /** Kept copies of the database. */
    copies: join(data, "copies"),
    goBack: join(data, "go-back.json"),
    /** What nobody knows any more, or was replaced: never deleted by us. */
    aside: join(data, "set-aside"),
    /** What is on its way out: it goes for good once the database has forgotten it. */
    removed: join(data, "removed"),
    incoming: join(data, "incoming"),
    /** A file on its way in, or from a job to whoever waits for it; what is left over goes at the next start. */
    arriving: (name: string) => within(join(data, "incoming"), name),
    cache: join(data, "cache"),
    /** Demo footage that is delivered as stills. */
    demo: join(data, "demo"),
    takes: join(data, "takes"),
    take: (id: string) => within(join(data, "takes"), id),
    index: (id: string) => join(within(join(data, "takes"), id), "index.json"),
    render: (jobId: string) => within(join(data, "renders"), jobId),
    renders: join(data, "renders"),
    /** What of a survey is known before the rest is measured. */
    firstSurvey: (id: string) => join(within(join(data, "takes"), id), FIRST_SURVEY_FILE),
    survey: (id: string) => join(within(join(data, "takes"), id), SURVEY_FILE),
    /** What was measured, as jobs read it: from the database, by the hash of its content. */
    measured: (hash: string) => within(join(data, "measured"), hash),
    /** Pictures that were brought in, by the hash of their content. */
    pictures: join(data, "pictures"),
    /** Plates that were built from many frames: caches. */
    built: join(data, "built"),
    builtPlate: (name: string) => within(join(data, "built"), name),
    /** Where plates are written out to be retouched elsewhere. */
    outside: join(data, "outside"),
    settings: join(data, "settings.json"),
    /** What the program says; the launcher writes it. */
    log: join(data, "log", "umber.log"),
  };
}
export type DataPaths = ReturnType<typeof dataPaths>;
