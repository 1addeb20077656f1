import { createStore } from "zustand/vanilla";
import type { Rect } from "../../core/pixels/frame";
import type { ShotDocument } from "../../wire/shot";
import { Painter } from "../picture/painter";
import type { Notices } from "./actions/core";
import { createCameraTrack } from "./actions/camera-track";
import { createByItself } from "./actions/by-itself";
import { createDocument } from "./actions/document";
import { createCutting } from "./actions/cutting";
import { createCarrying } from "./actions/carrying";
import { createFollowing } from "./actions/following";
import { createHistory } from "./actions/history";
import { createMasks } from "./actions/masks";
import { createGlass } from "./actions/glass";
import { createFencing } from "./actions/fencing";
import { createFlicker } from "./actions/flicker";
import { createMatching } from "./actions/matching";
import { createMode } from "./actions/mode";
import { createPatches } from "./actions/patches";
import { createPlates } from "./actions/plates";
import { createProving } from "./actions/proving";
import { createReframing } from "./actions/reframing";
import { createRetouch } from "./actions/retouch";
import { createScout } from "./actions/scout";
import { createSelection } from "./actions/selection";
import { createSource } from "./actions/source";
import { createTasks } from "./actions/tasks";
import { createTimeline } from "./actions/timeline";
import { createTransport } from "./actions/transport";
import { createView } from "./actions/view";
import { type EditorState, firstState } from "./state/editor";
import { retouching } from "./state/mode";
import { exists } from "./state/selection";
import { keepWhere, keptWhere } from "./where";

/** How often it is kept where one is, in ms: moving through the frames of a shot says so many times a second. */
const KEEP_MS = 500;
/** How many frames are made ready for playing once a shot is open. */
const WARM_FRAMES = 120;

/** The editor of one shot: its state, and everything that can be done to it, by subject. It knows nothing of the page that shows it. */
export function createEditor(doc: ShotDocument, notices: Notices, paint = (...a: ConstructorParameters<typeof Painter>) => new Painter(...a)) {
  const painter = paint(doc.takes, doc.recipe, doc.id);
  const store = createStore<EditorState>(() => firstState(doc));
  const { getState: get, setState: set } = store;
  set(keptWhere(get(), (x) => exists(doc.recipe, x)));
  let keeping: ReturnType<typeof setTimeout> | null = null;
  const forgetting = store.subscribe(() => {
    keeping ??= setTimeout(() => {
      keeping = null;
      keepWhere(get());
    }, KEEP_MS);
  });

  const document = createDocument(store, painter, doc, notices, () => history.edited());
  const { core, queue } = document;
  const tasks = createTasks(core);
  const scout = createScout(core, tasks);
  const plates = createPlates(core, tasks);
  const retouch = createRetouch(core, painter);
  const history = createHistory(core, queue, retouch);
  const fencing = createFencing(core, history);
  const mode = createMode(core, retouch);
  const itself = createByItself(core);
  const patches = createPatches(core, plates.keyOfTake, itself, createCameraTrack(core, tasks));
  const matching = createMatching(core, tasks, patches);
  const flicker = createFlicker(core, tasks);
  const reframing = createReframing(core);
  const glass = createGlass(core, painter);
  const following = createFollowing(core, tasks, patches, painter, store.subscribe);
  const carrying = createCarrying(core, following, itself);
  const source = createSource(core, patches);
  const masks = createMasks(core, patches);
  const cutting = createCutting(core, tasks, masks);
  const proving = createProving(core, patches, matching, glass, cutting);
  const transport = createTransport(core, painter);
  const timeline = createTimeline(core, patches, transport);

  let loaded: object | undefined;
  const loadingTracks = store.subscribe(({ recipe }) => {
    if (recipe.tracks === loaded) return;
    loaded = recipe.tracks;
    void following.load();
  });
  void following.load();

  const resting = store.subscribe(() => proving.rested());
  const seeing = glass.begin();

  let warm = false;
  painter.onPicture = (p) => {
    set({ shown: p });
    if (warm || p.quality !== "exact") return;
    // the first exact picture is there: make ready what will be played
    warm = true;
    const { in: a, out: b } = get().recipe.shot;
    painter.ahead(Array.from({ length: Math.min(WARM_FRAMES, b - a + 1) }, (_, i) => a + ((p.frame - a + i) % (b - a + 1))));
  };
  /** Draws a part of the picture that is shown anew; the page gives it. */
  let drawPart: (x: number, y: number, part: ImageData) => void = () => undefined;
  painter.onPart = (rect, part) => {
    const { shown } = get();
    if (!shown || rect.x1 <= rect.x0 || rect.y1 <= rect.y0) return;
    // kept beside the canvas too: the pointer reads from it, and a picture that is not drawn yet will have the part in it
    keepPart(shown, rect, part);
    drawPart(rect.x0, rect.y0, new ImageData(part, rect.x1 - rect.x0));
  };
  painter.onFigures = (figures) => set({ figures });
  painter.onBehind = (behind) => set({ behind });
  painter.onProblem = notices.problem;
  painter.onWorking = (share) => tasks.own(share < 1 ? { name: "Filling", share } : null, painter.stop.bind(painter));
  painter.onStopped = () => {
    notices.said("Stopped; the last change was taken back.");
    void queue.step("undo");
  };

  return {
    store,
    painter,
    queue,
    transport,
    timeline,
    view: createView(core),
    selection: createSelection(core),
    mode,
    masks,
    cutting,
    fencing,
    patches,
    matching,
    flicker,
    glass,
    reframing,
    following,
    carrying,
    proving,
    source,
    retouch,
    plates,
    scout,
    tasks,
    history,
    commit: core.commit,
    preview: core.preview,
    cancelPreview: document.cancelPreview,
    refresh: core.refresh,
    takeChanged: document.takeChanged,
    say: (words: string) => notices.said(words),
    onPart(draw: typeof drawPart): void {
      drawPart = draw;
    },
    async loadSurvey(): Promise<void> {
      await scout.loadSurvey();
      void itself.know();
      // bars that were found only now
      if (retouching(get())) retouch.fenceBars();
    },
    close(): void {
      forgetting();
      loadingTracks();
      resting();
      seeing();
      proving.close();
      if (keeping) clearTimeout(keeping);
      keepWhere(get());
      transport.close();
      painter.close();
    },
  };
}
export type Editor = ReturnType<typeof createEditor>;

/** Puts a changed part into the picture that is shown. */
function keepPart(shown: NonNullable<EditorState["shown"]>, rect: Rect, part: Uint8ClampedArray): void {
  const w = rect.x1 - rect.x0;
  for (let y = rect.y0; y < rect.y1; y++)
    shown.pixels.set(part.subarray(4 * (y - rect.y0) * w, 4 * (y - rect.y0 + 1) * w), 4 * (y * shown.width + rect.x0));
}
