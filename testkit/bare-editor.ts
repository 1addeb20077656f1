import { serialize } from "node:v8";
import type { Notices } from "../src/client/editor/actions/core";
import { createEditor } from "../src/client/editor/editor";
import { Painter } from "../src/client/picture/painter";
import type { ToWorker } from "../src/client/picture/protocol";
import type { Recipe } from "../src/core/document/recipe";
import type { ShotDocument } from "../src/wire/shot";
import { YUV420 } from "./pictures";

/** The editor as it is, without a page, an engine and a picture worker: what it would tell the worker is written down. */
export function bareEditor(recipe: Recipe, notices: Partial<Notices> = {}) {
  const messages: ToWorker[] = [];
  const said: string[] = [];
  const info = { width: 320, height: 180, frames: 10, rate: [24, 1], format: YUV420, colour: {}, tags: {} };
  const takes = Object.fromEntries(Object.keys(recipe.takes).map((k) => [k, { id: `take-${k}`, name: `${k}.mkv`, state: "ready", info }]));
  const production = { id: "p", name: "Production" };
  const doc = { id: "shot", name: "Shot", rev: 0, recipe, undo: null, redo: null, takes, production } as unknown as ShotDocument;
  const worker = { postMessage: (m: ToWorker) => void messages.push(m), terminate: () => undefined, onmessage: null };
  const editor = createEditor(
    doc,
    { said: (m) => void said.push(m), problem: (m) => void said.push(m), ...notices },
    (takes, shown, shot) => new Painter(takes, shown, shot, worker),
  );
  return { editor, get: editor.store.getState, messages, said };
}

/** How many bytes a message takes on its way to a worker. */
export const bytesOf = (message: unknown): number => serialize(message).length;
