import type { ShotDocument } from "../../../wire/shot";
import { type DocumentState, firstDocument } from "./document";
import { firstFollow, type FollowState } from "./follow";
import { firstMask, type MaskState } from "./mask";
import { firstMode, type ModeState } from "./mode";
import { firstPlates, type PlatesState } from "./plates";
import { firstProof, type ProofState } from "./proof";
import { firstRetouch, type RetouchState } from "./retouch";
import { firstScout, type ScoutState } from "./scout";
import { firstSelection, type SelectionState } from "./selection";
import { firstTasks, type TasksState } from "./tasks";
import { firstTimeline, type TimelineState } from "./timeline";
import { firstTransport, type TransportState } from "./transport";
import { firstView, type ViewState } from "./view";

/** All that the editor of one shot knows; each part stands in a file of its own, with its first value. */
export type EditorState = DocumentState &
  TransportState &
  TimelineState &
  ViewState &
  SelectionState &
  ModeState &
  MaskState &
  RetouchState &
  PlatesState &
  ScoutState &
  FollowState &
  ProofState &
  TasksState;

export const firstState = (doc: ShotDocument): EditorState => ({
  ...firstDocument(doc),
  ...firstTransport(doc.recipe.shot.in),
  ...firstTimeline,
  ...firstView,
  ...firstSelection,
  ...firstMode(doc.recipe),
  ...firstMask,
  retouch: firstRetouch,
  ...firstPlates,
  ...firstScout,
  ...firstFollow,
  ...firstProof,
  ...firstTasks,
});
