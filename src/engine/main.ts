import type { ServerResponse } from "node:http";
import { mkdir, readdir, rm } from "node:fs/promises";
import { randomUUID } from "node:crypto";
import { basename, dirname, join } from "node:path";
import pino from "pino";
import { addTakeSchema, editRequestSchema, type Event, goBackSchema, newProductionSchema, renderRequestSchema, stillQuerySchema } from "../wire/shot";
import { preferencesSchema } from "../wire/preferences";
import { addStillsSchema, cacheRequestSchema, mediaQuerySchema, placeTakeSchema, useMediaSchema } from "../wire/media";
import { BLOCK, NAME_HEADER } from "../wire/layout";
import { askToGoBack, copies, goBackIfAsked } from "./keeping/copies";
import { takeFolder } from "./keeping/lock";
import { InUse, startFailure, StartFailure } from "./keeping/start-failure";
import { Documents, NotFound, NotYet, Stale } from "./db/documents";
import { Library } from "./library/library";
import { openChecked } from "./db/open";
import { Removal } from "./library/removal";
import { Originals } from "./library/originals";
import { Analyses } from "./jobs/analyses";
import { Cutting } from "./library/cutting";
import { Outside } from "./library/outside";
import { Plates } from "./jobs/plates";
import { Renders } from "./jobs/renders";
import { Surveys } from "./jobs/surveys";
import { Takes } from "./library/takes";
import { Works } from "./jobs/works";
import { MediaError } from "./media/media-error";
import { FrameStore } from "./media/frame-store";
import { MediaFolders } from "./media/folders";
import { isPattern, matchingStills } from "./media/sequence";
import { dataPaths } from "./paths";
import { readSettings, writeSettings } from "./settings";
import { seedDemo } from "./usecases/demo";
import { takeNoteSchema, takeTurnSchema } from "../wire/take";
import { historyRoutes } from "./http/history";
import { cutRoutes } from "./http/cutting";
import { beforeEnd, beginLife, doing, end, IN_USE, setAside } from "./life";
import { Notices } from "./usecases/notices";
import { plateRoutes } from "./http/plates";
import type { Route } from "./http/route";
import { serve } from "./http/serve";
import { Shots } from "./usecases/shots";
import { serveTrouble } from "./http/trouble";

beginLife();
const log = pino({ level: process.env.UMBER_LOG ?? "info" });
const paths = dataPaths();
const root = process.env.UMBER_ROOT ?? process.cwd();
const secret = Buffer.from(process.env.UMBER_ENGINE_SECRET ?? "");
if (secret.length < 16) throw new Error("UMBER_ENGINE_SECRET is missing: start the program with ./umber.");
const to = { secret, port: Number(process.env.UMBER_ENGINE_PORT), log };
const aside = setAside();

/** Takes the data folder and opens what is in it. Where that cannot be, the page is told why, and nothing else happens. */
async function opened() {
  let release = () => undefined as void;
  const started = doing({ key: "start", words: "opening the database" });
  try {
    await mkdir(paths.data, { recursive: true });
    release = await takeFolder(paths.data, process.env.UMBER_ADDRESS ?? "");
    await goBackIfAsked(paths, Date.now());
    const database = await openChecked(paths, join(root, "drizzle"), Date.now(), { check: !aside.some((a) => a.key === "start") });
    beforeEnd(async () => {
      await database.close();
      release();
    });
    return database;
  } catch (e) {
    const why = startFailure(e, basename(paths.data));
    if (why instanceof InUse) {
      process.stderr.write(`${why.message}\n`);
      return end(IN_USE);
    }
    if (!(e instanceof StartFailure)) log.error(e);
    await serveTrouble(why, paths, release, to);
    return new Promise<never>(() => undefined);
  } finally {
    started();
  }
}

const { db, daily } = await opened();
setInterval(() => void daily(Date.now()).catch((e: unknown) => log.warn(e)), 3_600_000).unref();
let settings = await readSettings(paths.settings);
const cacheLimit = settings.cache ?? Number(process.env.UMBER_CACHE ?? 8e9);

await mkdir(paths.incoming, { recursive: true });
for (const f of await readdir(paths.incoming)) await rm(join(paths.incoming, f), { force: true, recursive: true });

const listeners = new Set<ServerResponse>();
const tell = (e: Event) => listeners.forEach((l) => l.write(`data: ${JSON.stringify(e)}\n\n`));
const notices = new Notices(() => tell({ type: "productions" }));
const documents = new Documents(db);
const library = new Library(db, (id) => documents.broken.get(id));
const store = new FrameStore(paths.cache, cacheLimit);
const takes = new Takes(library, paths, tell, aside);
const renders = new Renders(db, paths, tell, join(root, "dist", "render-job.mjs"), cacheLimit);
const folders = new MediaFolders();
const originals = new Originals(library, takes, folders, tell);
const removal = new Removal(db, paths);
const analyses = new Analyses(join(root, "dist", "analysis-job.mjs"));
const surveys = new Surveys(paths, analyses, tell);
const plates = new Plates(paths, analyses, () => renders.cacheLimit);
const works = new Works(tell);
const cutting = new Cutting(db, library, documents, tell);
const outside = new Outside(paths, plates, documents, tell);
const shots = new Shots(library, documents, takes, store, plates);

for (const a of aside) notices.add(`The program stopped answering while it was ${a.words}, and was started again; that was set aside.`);
documents.rebuilt = (name) =>
  notices.add(`What was stored of “${name}” was damaged; it was put together again from its history, up to its last change.`);
documents.known = async (assets) => {
  for (const a of assets)
    if (!(/^[0-9a-f]{64}$/.test(a) ? await plates.has(a) : await library.hasTake(a)))
      throw new MediaError("The change names a take or a picture that is not there (any more): bring it in first.");
};
takes.counted = async (takeId, claimed, frames) => {
  for (const { id } of await library.shotsOf(takeId)) await setLastFrame(id, claimed - 1, frames - 1);
};
takes.read = (id) => void surveys.begin(id);
await removal.finish();
const strange = await renders.recover();
if (strange.length)
  notices.add(
    `${strange.length === 1 ? "A rendered file lies" : `${strange.length} rendered files lie`} in the data folder that no shot knows: moved to its folder “set-aside”, nothing was deleted.`,
  );
await takes.resume();
await outside.resume();
if (process.env.UMBER_DEMO) await seedDemo(library, takes, root, paths.demo, process.env.UMBER_DEMO);

/** The shot of a take that claimed another count of frames gets its true last frame. */
async function setLastFrame(shotId: string, claimed: number, last: number): Promise<void> {
  const patches = [{ op: "replace" as const, path: ["shot", "out"], value: last }];
  for (;;) {
    const { rev, recipe } = await documents.read(shotId);
    if (recipe.shot.out !== claimed) return;
    try {
      const answer = await documents.fact(shotId, { editId: randomUUID(), base: rev, name: `The take was read: ${last + 1} frames`, patches });
      return tell({ type: "shot", id: shotId, rev: answer.rev });
    } catch (e) {
      if (!(e instanceof Stale)) throw e; // somebody edits meanwhile: on top of that, then
    }
  }
}

/** Files below a media folder: one film, or the stills that a name with # means. */
async function chosen(root: number, path: string): Promise<string[]> {
  if (!isPattern(path)) return [await folders.inside(root, path)];
  const stills = await matchingStills(join(await folders.inside(root, dirname(path)), basename(path)));
  for (const s of stills) await folders.inside(root, join(dirname(path), basename(s)));
  return stills;
}

let filling = 0;
/** Fills the opened shot's exact frames, block after block, until another shot is opened. */
async function fill(takeId: string, from: number, to: number): Promise<void> {
  const mine = ++filling;
  const index = await takes.index(takeId);
  for (let k = Math.floor(from / BLOCK); k <= Math.floor(to / BLOCK) && mine === filling; k++) await store.block(takeId, index, k);
}

const productionFor = async (id: string | null) => id ?? (await library.productions())[0]?.id ?? (await library.addProduction("My production"));

const routes: Route[] = [
  ["GET", /^\/media$/, () => Promise.resolve({ roots: folders.roots.map((r) => basename(r)) })],
  [
    "GET",
    /^\/media\/list$/,
    ({ query }) => {
      const q = mediaQuerySchema.parse(Object.fromEntries(query));
      return folders.list(q.root, q.path);
    },
  ],
  [
    "POST",
    /^\/media\/use$/,
    async ({ body }) => {
      const q = useMediaSchema.parse(body);
      const production = await productionFor(q.productionId);
      const paths = await chosen(q.root, q.path);
      if (paths.length === 1 && !isPattern(q.path)) return takes.add(production, basename(paths[0]), paths[0], true);
      if (!q.rate) throw new MediaError("Numbered stills need a rate: say how many of them make a second.");
      return takes.addStills(production, basename(q.path), { paths }, q.rate);
    },
  ],
  [
    "POST",
    /^\/takes\/([\w-]+)\/place$/,
    async ({ params: [id], body }) => {
      const q = placeTakeSchema.parse(body);
      await originals.place(id, await chosen(q.root, q.path));
      return {};
    },
  ],
  ["GET", /^\/(take|production)s\/([\w-]+)\/dependents$/, ({ params: [what, id] }) => removal.dependents(what as "take", id)],
  [
    "POST",
    /^\/(take|production)s\/([\w-]+)\/remove$/,
    async ({ params: [what, id] }) => {
      const gone = await removal.plan(what as "take", id);
      filling++;
      await renders.drop(gone.jobIds);
      for (const t of gone.takeIds) {
        takes.forget(t);
        surveys.stop(t);
      }
      await removal.remove(gone);
      documents.forget(gone.shotIds);
      for (const t of gone.takeIds) await store.forget(t);
      tell({ type: "productions" });
      return {};
    },
  ],
  ["GET", /^\/cache$/, () => store.use()],
  [
    "POST",
    /^\/cache$/,
    async ({ body }) => {
      const q = cacheRequestSchema.parse(body);
      if (q.empty) await store.empty();
      if (q.limit !== undefined) {
        settings = { ...settings, cache: q.limit };
        await writeSettings(paths.settings, settings);
        await store.resize(q.limit);
        renders.cacheLimit = q.limit;
      }
      return store.use();
    },
  ],
  [
    "POST",
    /^\/stills$/,
    async ({ body }) => {
      const q = addStillsSchema.parse(body);
      return takes.addStills(await productionFor(q.productionId), q.name, { folder: q.folder }, q.rate);
    },
  ],
  [
    "GET",
    /^\/state$/,
    async () => ({ productions: await library.productions(), notices: notices.all(), exposed: process.env.UMBER_EXPOSED === "1" }),
  ],
  [
    "POST",
    /^\/notices\/([\w-]+)\/away$/,
    ({ params: [id] }) => {
      notices.putAway(id);
      return Promise.resolve({});
    },
  ],
  ["GET", /^\/copies$/, async () => ({ copies: await copies(paths), trouble: null })],
  [
    "POST",
    /^\/copies\/back$/,
    async ({ body }) => {
      await askToGoBack(paths, goBackSchema.parse(body).name);
      setTimeout(() => void end(0), 100); // the launcher starts us again, and the copy is put in place before anything is opened
      return {};
    },
  ],
  [
    "POST",
    /^\/productions$/,
    async ({ body }) => {
      const id = await library.addProduction(newProductionSchema.parse(body).name);
      tell({ type: "productions" });
      return { id };
    },
  ],
  [
    "POST",
    /^\/takes$/,
    async ({ body }) => {
      const q = addTakeSchema.parse(body);
      return takes.add(await productionFor(q.productionId), q.name, q.path, false);
    },
  ],
  ["GET", /^\/takes\/([\w-]+)$/, async ({ params: [id] }) => library.toTake(await library.takeRow(id))],
  [
    "POST",
    /^\/takes\/([\w-]+)\/note$/,
    async ({ params: [id], body }) => {
      await library.takeRow(id);
      const take = await library.setTake(id, takeNoteSchema.parse(body));
      tell({ type: "take", take });
      return take;
    },
  ],
  ["POST", /^\/takes\/([\w-]+)\/turn$/, ({ params: [id], body }) => takes.turn(id, takeTurnSchema.parse(body).turned)],
  [
    "POST",
    /^\/takes\/([\w-]+)\/blocks\/(\d+)$/,
    async ({ params: [id, k] }) => {
      const index = await takes.index(id).catch(() => {
        throw new NotFound("This take is not read yet.");
      });
      const g = takes.reading(id);
      // a block that is not read to its end is not made: it would stay short
      if (g && (Number(k) + 1) * BLOCK > g.times.length)
        throw new NotYet(`These frames are not read yet: ${g.times.length} of about ${g.info.frames} are.`);
      if (Number(k) * BLOCK >= index.info.frames) throw new NotFound(`The take has only frames 0 to ${index.info.frames - 1}.`);
      await store.block(id, index, Number(k));
      return {};
    },
  ],
  [
    "POST",
    /^\/takes\/([\w-]+)\/quick$/,
    async ({ params: [id] }) => {
      await takes.checkQuick(id);
      return {};
    },
  ],
  [
    "GET",
    /^\/shots\/([\w-]+)$/,
    async ({ params: [id] }) => {
      const before = await shots.document(id);
      for (const t of Object.values(before.takes)) await originals.check(t.id);
      const doc = await shots.document(id);
      const take = doc.takes[doc.recipe.shot.take];
      if (take.state === "ready") void fill(take.id, doc.recipe.shot.in, doc.recipe.shot.out).catch((e: unknown) => log.warn(e));
      return doc;
    },
  ],
  ["GET", /^\/shots\/([\w-]+)\/recipe$/, ({ params: [id] }) => shots.exported(id)],
  [
    "POST",
    /^\/shots\/([\w-]+)\/edits$/,
    async ({ params: [id], body }) => {
      const answer = await documents.edit(id, editRequestSchema.parse(body));
      tell({ type: "shot", id, rev: answer.rev });
      return answer;
    },
  ],
  [
    "GET",
    /^\/shots\/([\w-]+)\/still$/,
    async ({ params: [id], query, res }) => {
      const q = stillQuerySchema.parse(Object.fromEntries(query));
      await takes.whole(Object.values((await documents.read(id)).recipe.takes).map((t) => t.asset!));
      const { png, name } = await shots.still(id, q.what, q.frame, q.layer ?? q.plate);
      res.writeHead(200, { "content-type": "image/png", [NAME_HEADER]: encodeURIComponent(name) }).end(png);
      return undefined;
    },
  ],
  ["GET", /^\/shots\/([\w-]+)\/renders$/, ({ params: [id] }) => renders.list(id)],
  [
    "POST",
    /^\/shots\/([\w-]+)\/renders$/,
    async ({ params: [id], body }) => {
      const q = renderRequestSchema.parse(body);
      const row = await library.shotRow(id);
      const { rev, recipe } = await documents.read(id);
      const assets = Object.values(recipe.takes).map((t) => t.asset!);
      await takes.whole(assets);
      await originals.demand(assets);
      for (const a of assets) await takes.onDisk(a);
      const files = await shots.takeFiles(recipe);
      return renders.add(id, row.name, rev, recipe, files, await plates.files(recipe, files), q);
    },
  ],
  ...historyRoutes({
    documents,
    takes,
    tell,
    preferences: {
      read: () => settings.preferences ?? preferencesSchema.parse({}),
      write: (preferences) => writeSettings(paths.settings, (settings = { ...settings, preferences })),
    },
  }),
  ...cutRoutes(cutting, takes, async (takeId) => {
    surveys.stop(takeId);
    await rm(paths.survey(takeId), { force: true });
    await store.forget(takeId);
  }),
  ...plateRoutes({ documents, shots, takes, plates, surveys, analyses, works, outside, store, paths, cacheLimit: () => renders.cacheLimit }),
  ["GET", /^\/jobs\/([\w-]+)$/, ({ params: [id] }) => renders.get(id)],
  [
    "POST",
    /^\/jobs\/([\w-]+)\/stop$/,
    async ({ params: [id] }) => {
      await renders.stop(id);
      return {};
    },
  ],
  [
    "POST",
    /^\/jobs\/([\w-]+)\/again$/,
    async ({ params: [id] }) => {
      // what is known of its takes may have been lost meanwhile: then it is read again first
      const reads = await renders.takesOf(id);
      await takes.whole(reads);
      for (const t of reads) await takes.onDisk(t);
      return renders.again(id);
    },
  ],
  [
    "GET",
    /^\/events$/,
    async ({ res }) => {
      res.writeHead(200, { "content-type": "text/event-stream", "cache-control": "no-store" });
      res.write(": hello\n\n");
      listeners.add(res);
      res.on("close", () => listeners.delete(res));
      return undefined;
    },
  ],
];

await serve({ ...to, routes, aside })
  .then(() => log.info("engine ready"))
  .catch((e: NodeJS.ErrnoException) => {
    log.fatal(e.code === "EADDRINUSE" ? "The engine's port is taken." : e.message);
    return end(1);
  });
