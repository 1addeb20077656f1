import { mkdir, readdir, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import type { Logger } from "pino";
import type { Event } from "../wire/shot";
import { UPLOAD_PREFIX } from "../wire/layout";
import type { Config } from "./config";
import { Documents } from "./db/documents";
import type { Db } from "./db/open";
import { Listeners } from "./http/events";
import { Renders } from "./jobs/renders";
import { Runner } from "./jobs/runner";
import { Tasks } from "./jobs/tasks";
import { Unnamed } from "./keeping/unnamed";
import { Cutting } from "./library/cutting";
import { Library } from "./library/library";
import { Measured } from "./library/measured";
import { Originals } from "./library/originals";
import { Outside } from "./library/outside";
import { Plates } from "./library/plates";
import { Removal } from "./library/removal";
import { Proofs } from "./library/proofs";
import { Surveys } from "./library/surveys";
import { Takes } from "./library/takes";
import { MediaFolders } from "./media/folders";
import { FrameStore } from "./media/frame-store";
import { MediaError } from "./media/media-error";
import { SettingsFile } from "./settings";
import { seedDemo } from "./usecases/demo";
import { Filling } from "./usecases/filling";
import { Notices } from "./usecases/notices";
import { Shots } from "./usecases/shots";
import { setLastFrame } from "./usecases/true-length";

/** How long what has arrived of a film waits for the rest, in ms: a week. */
const UPLOAD_WAITS = 7 * 86_400_000;

/** Makes every part of the engine and ties them to each other; nothing of what was left undone is begun yet. */
export async function compose({ paths, root, cache, aside, exposed, version }: Config, db: Db, log: Logger) {
  const settings = await SettingsFile.read(paths.settings);
  const cacheLimit = settings.now.cache ?? cache;
  const listeners = new Listeners();
  const tell = (e: Event) => listeners.tell(e);
  const notices = new Notices(() => tell({ type: "productions" }));
  const documents = new Documents(db);
  const library = new Library(db, (id) => documents.broken.get(id));
  const store = new FrameStore(paths.cache, cacheLimit);
  const takes = new Takes(library, paths, tell, aside);
  const runner = new Runner(join(root, "dist", "job.mjs"), paths.data, () => store.limit);
  const renders = new Renders(db, paths, tell, runner);
  const folders = new MediaFolders();
  const originals = new Originals(library, takes, folders, tell);
  const removal = new Removal(db, paths);
  const surveys = new Surveys(paths, runner, tell);
  const proofs = new Proofs(runner);
  const plates = new Plates(paths, runner);
  const tasks = new Tasks(tell);
  const cutting = new Cutting(db, library, documents, tell);
  const outside = new Outside(paths, plates, runner, documents, tell);
  const measured = new Measured(db, paths);
  const shots = new Shots(library, documents, takes, store, plates, measured, runner);
  const filling = new Filling(takes, store);
  const unnamed = new Unnamed(
    db,
    paths,
    async () =>
      (await Promise.all((await library.shotIds()).map((id) => documents.read(id).catch(() => null)))).flatMap((d) => (d ? [d.recipe] : [])),
    async (recipe) => plates.folders(recipe, await shots.takeFiles(recipe)),
    () => JSON.stringify(settings.now),
  );

  documents.rebuilt = (name) =>
    notices.add(`What was stored of “${name}” was damaged; it was put together again from its history, up to its last change.`);
  documents.known = async (assets, data) => {
    await unnamed.calm();
    if ((await measured.missing(data)).length)
      throw new MediaError("The change names something that was measured and is not there (any more): measure it again.");
    for (const a of assets)
      if (!(/^[0-9a-f]{64}$/.test(a) ? await plates.has(a) : await library.hasTake(a)))
        throw new MediaError("The change names a take or a picture that is not there (any more): bring it in first.");
  };
  takes.counted = async (takeId, claimed, frames) => {
    for (const { id } of await library.shotsOf(takeId)) await setLastFrame(documents, tell, id, claimed - 1, frames - 1);
  };
  takes.read = (id) => void surveys.begin(id);
  const parts = { cutting, documents, proofs, exposed, filling, folders, library, listeners, log, measured, notices, originals, outside, paths, plates, removal, renders, runner, settings, shots, store, surveys, takes, tasks, tell, unnamed, version }; // prettier-ignore
  return parts;
}
export type Parts = Awaited<ReturnType<typeof compose>>;

/** Goes on with what was left undone when the engine ended the last time, and says what was found. */
export async function takeUp(
  { notices, removal, renders, takes, outside, library, paths, unnamed }: Parts,
  { aside, demo, root }: Config,
): Promise<void> {
  await mkdir(paths.incoming, { recursive: true });
  for (const f of await readdir(paths.incoming)) {
    const file = join(paths.incoming, f);
    // the rest of a film may still be sent
    if (f.startsWith(UPLOAD_PREFIX) && Date.now() - ((await stat(file).catch(() => null))?.mtimeMs ?? 0) < UPLOAD_WAITS) continue;
    await rm(file, { force: true, recursive: true });
  }
  for (const a of aside) notices.add(`The program stopped answering while it was ${a.words}, and was started again; that was set aside.`);
  await removal.finish();
  await unnamed.clearRows();
  const strange = await renders.recover();
  if (strange.length)
    notices.add(
      `${strange.length === 1 ? "A rendered file lies" : `${strange.length} rendered files lie`} in the data folder that no shot knows: moved to its folder “set-aside”, nothing was deleted.`,
    );
  await takes.resume();
  await outside.resume();
  if (demo) await seedDemo(library, takes, root, paths.demo, demo);
}
