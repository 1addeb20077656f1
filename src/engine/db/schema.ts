import { sql } from "drizzle-orm";
import { blob, integer, primaryKey, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";

const created = () => integer("created_at").notNull();

export const productions = sqliteTable("productions", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  createdAt: created(),
});

export const takes = sqliteTable("takes", {
  id: text("id").primaryKey(),
  productionId: text("production_id")
    .notNull()
    .references(() => productions.id),
  name: text("name").notNull(),
  /** Where the original lies. It is never written to. */
  path: text("path").notNull(),
  state: text("state", { enum: ["reading", "ready", "failed"] }).notNull(),
  error: text("error"),
  /** TakeInfo as JSON, once read. */
  info: text("info"),
  /** Whether the file is a copy of ours; an original used in place is not. */
  own: integer("own", { mode: "boolean" }).notNull().default(false),
  /** Print of the original as it was read, JSON. */
  print: text("print"),
  /** What must go from it, or what it is for, in the user's words. */
  note: text("note").notNull().default(""),
  /** For numbered stills: their paths and rate, JSON. */
  stills: text("stills"),
  createdAt: created(),
});

export const shots = sqliteTable("shots", {
  id: text("id").primaryKey(),
  takeId: text("take_id")
    .notNull()
    .references(() => takes.id),
  name: text("name").notNull(),
  /** Its newest revision. */
  rev: integer("rev").notNull(),
  /** The recipe at `recipeRev`, JSON, long point lists as blobs; from there the history leads on to `rev`. */
  recipe: text("recipe").notNull(),
  recipeRev: integer("recipe_rev").notNull().default(0),
  /** What the first page tells of it at `rev`, JSON; null: as the recipe has it. */
  summary: text("summary"),
  createdAt: created(),
});

/** The history of each shot's recipe: one row per gesture, undo and redo included. */
export const revisions = sqliteTable(
  "revisions",
  {
    shotId: text("shot_id")
      .notNull()
      .references(() => shots.id),
    rev: integer("rev").notNull(),
    /** Made by the client; a repeated id gets its first answer. */
    editId: text("edit_id").notNull(),
    name: text("name").notNull(),
    kind: text("kind", { enum: ["edit", "undo", "redo", "fact"] }).notNull(),
    of: integer("of"),
    patches: text("patches").notNull(),
    inverse: text("inverse").notNull(),
    /** The whole recipe, every 50 revisions; of long ago every 1000. */
    snapshot: text("snapshot"),
    createdAt: created(),
  },
  (t) => [primaryKey({ columns: [t.shotId, t.rev] }), uniqueIndex("revisions_edit").on(t.shotId, t.editId)],
);

/** Long lists of points, by the hash of their content. */
export const blobs = sqliteTable("blobs", {
  hash: text("hash").primaryKey(),
  data: text("data").notNull(),
});

/** What was measured for recipes, by the hash of its content. */
export const measured = sqliteTable("measured", {
  hash: text("hash").primaryKey(),
  kind: text("kind", { enum: ["facts", "track", "profile", "gains", "cutout", "look"] }).notNull(),
  /** The number of the method. */
  method: integer("method").notNull(),
  /** The hash of what it was measured from. */
  of: text("of").notNull(),
  data: blob("data", { mode: "buffer" }).notNull(),
  createdAt: created(),
});

export const jobs = sqliteTable(
  "jobs",
  {
    id: text("id").primaryKey(),
    shotId: text("shot_id").references(() => shots.id),
    /** What is to be done, JSON: recipe, ids of takes, hashes of pictures, frame range, codec; no path. */
    spec: text("spec").notNull(),
    specHash: text("spec_hash").notNull(),
    state: text("state", { enum: ["queued", "running", "done", "failed", "stopped"] }).notNull(),
    done: integer("done").notNull(),
    total: integer("total").notNull(),
    error: text("error"),
    notes: text("notes").notNull(),
    file: text("file").notNull(),
    bytes: integer("bytes"),
    createdAt: created(),
    startedAt: integer("started_at"),
    endedAt: integer("ended_at"),
  },
  // of what is to be done only one is under way: the first of two that come at once
  (t) => [
    uniqueIndex("jobs_under_way")
      .on(t.specHash)
      .where(sql`state IN ('queued', 'running')`),
  ],
);
