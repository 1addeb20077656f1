import type { Recipe } from "../src/core/document/recipe";
import type { EditorCore } from "../src/client/editor/actions/core";
import type { EditorState } from "../src/client/editor/state/editor";
import { edit } from "../src/recipe/edits";

/** The state of an editor without a page: edits count at once, what is said is kept. */
export function bareCore(recipe: Recipe, more: object) {
  let state = { recipe, selection: null, ...more } as unknown as EditorState;
  const done: string[] = [];
  const said: string[] = [];
  /** Other ways that were offered. */
  const offered: (() => void)[] = [];
  const past: Recipe[] = [];
  /** The recipe with a drag in progress, as the page shows it. */
  let shown: Recipe | null = null;
  const core: EditorCore = {
    get: () => (shown ? { ...state, recipe: shown } : state),
    settled: () => state.recipe,
    set: (part) => void (state = { ...state, ...part }),
    commit(name, change) {
      shown = null;
      done.push(name);
      past.push(state.recipe);
      state = { ...state, recipe: edit(state.recipe, change).recipe };
    },
    preview: (change) => void (shown = edit(state.recipe, change).recipe),
    takeBack(then) {
      state = { ...state, recipe: past.pop()! };
      done.pop();
      then();
    },
    refresh: () => undefined,
    takes: () => undefined,
    goTo: (frame) => void (state = { ...state, frame }),
    show: String,
    maskBox: () => null,
    notices: { said: (m, instead) => (said.push(m), instead && offered.push(instead.run), undefined), problem: (m) => void said.push(m) },
  };
  return { core, cancelPreview: () => void (shown = null), get: core.get, done, said, offered };
}

/** A camera of which nothing is measured. */
export const noCamera = { whole: () => Promise.resolve(null), round: () => Promise.resolve(null) };
