import type { Event } from "../../wire/shot";
import type { Documents } from "../db/documents";
import type { Renders } from "../jobs/renders";
import type { Surveys } from "../library/surveys";
import type { Removal } from "../library/removal";
import type { Takes } from "../library/takes";
import type { FrameStore } from "../media/frame-store";
import type { Filling } from "./filling";

interface Parts {
  removal: Removal;
  filling: Filling;
  renders: Renders;
  takes: Takes;
  surveys: Surveys;
  documents: Documents;
  store: FrameStore;
  tell: (e: Event) => void;
}

/** A take or a production goes, with everything that hangs on it: first what works on it is stopped, then it is removed as one. */
export async function removeWhole(
  { removal, filling, renders, takes, surveys, documents, store, tell }: Parts,
  what: "take" | "production",
  id: string,
) {
  const gone = await removal.plan(what, id);
  filling.stop();
  await renders.drop(gone.jobIds);
  for (const t of gone.takeIds) {
    takes.forget(t);
    surveys.stop(t);
  }
  await removal.remove(gone);
  documents.forget(gone.shotIds);
  for (const t of gone.takeIds) await store.forget(t);
  tell({ type: "productions" });
}
