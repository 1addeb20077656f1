import type { Editor } from "../editor";
import type { PressCommand } from "./command";

const time = (says: string, keys: string, run: PressCommand["run"]): PressCommand => ({ group: "Time", says, keys, run });

const proves = (e: Editor) => e.store.getState().mode.stage === "Proof";

/** Playing, stepping, and where a patch begins and ends. */
export const TIME = {
  play: time("Play, or stop", "space", (e, page) => (page.unfocus(), e.transport.play())),
  playBack: time("Play backward, or stop", "shift+space", (e, page) => (page.unfocus(), e.transport.playBack())),
  slower: time("Shuttle back, each time faster", "q", (e) => e.transport.shuttle(-1)),
  faster: time("Shuttle on, each time faster", "e", (e) => e.transport.shuttle(1)),
  loop: time("Play round and round, or once", "l", (e) => e.transport.setLoop(!e.store.getState().loop)),
  markIn: time("The marked stretch begins here", "shift+i", (e) => e.transport.mark("in", e.store.getState().frame)),
  markOut: time("The marked stretch ends here", "shift+o", (e) => e.transport.mark("out", e.store.getState().frame)),
  unmark: time("No stretch is marked", "shift+u", (e) => e.transport.unmark()),
  back: time("One frame back", "left", (e) => e.transport.step(-1)),
  on: time("One frame on", "right", (e) => e.transport.step(1)),
  back10: time("Ten frames back", "shift+left", (e) => e.transport.step(-10)),
  on10: time("Ten frames on", "shift+right", (e) => e.transport.step(10)),
  first: time("First frame", "home", (e) => e.transport.jump(e.store.getState().recipe.shot.in)),
  last: time("Last frame", "end", (e) => e.transport.jump(e.store.getState().recipe.shot.out)),
  prevKey: time("Previous keyframe; in Proof the finding before", "comma", (e) => (proves(e) ? e.proving.jump(-1) : e.timeline.jumpToKeyframe(-1))),
  nextKey: time("Next keyframe; in Proof the next finding", "period", (e) => (proves(e) ? e.proving.jump(1) : e.timeline.jumpToKeyframe(1))),
  goTo: time("Go to a frame that is typed", "t", (_, page) => page.typeFrame()),
  in: time("Selected patch begins here", "i", (e) => e.patches.beginHere()),
  out: time("Selected patch ends here", "o", (e) => e.patches.endHere()),
} satisfies Record<string, PressCommand>;
