/** Every key of the bench, in one place: what it does, where it is shown, which key it is. */
export interface KeyEntry {
  id: string;
  group: "Time" | "Picture" | "Work" | "Tools";
  what: string;
  /** As react-hotkeys-hook writes them. */
  keys: string;
  /** As they are shown. */
  shown: string;
}

export const KEYS = [
  { id: "play", group: "Time", what: "Play, or stop", keys: "space", shown: "Space" },
  { id: "back", group: "Time", what: "One frame back", keys: "left", shown: "←" },
  { id: "on", group: "Time", what: "One frame on", keys: "right", shown: "→" },
  { id: "back10", group: "Time", what: "Ten frames back", keys: "shift+left", shown: "Shift ←" },
  { id: "on10", group: "Time", what: "Ten frames on", keys: "shift+right", shown: "Shift →" },
  { id: "first", group: "Time", what: "First frame", keys: "home", shown: "Home" },
  { id: "last", group: "Time", what: "Last frame", keys: "end", shown: "End" },
  { id: "prevKey", group: "Time", what: "Previous keyframe", keys: "comma", shown: "," },
  { id: "nextKey", group: "Time", what: "Next keyframe", keys: "period", shown: "." },
  { id: "in", group: "Time", what: "Selected patch begins here", keys: "i", shown: "I" },
  { id: "out", group: "Time", what: "Selected patch ends here", keys: "o", shown: "O" },
  { id: "peekOriginal", group: "Picture", what: "Original, while held", keys: "backslash", shown: "\\" },
  { id: "peekMatte", group: "Picture", what: "Matte alone, while held", keys: "m", shown: "M" },
  { id: "peekPatch", group: "Picture", what: "Selected patch alone, while held", keys: "n", shown: "N" },
  { id: "handles", group: "Picture", what: "Handles off or on", keys: "h", shown: "H" },
  { id: "fit", group: "Picture", what: "Whole picture", keys: "f", shown: "F" },
  { id: "full", group: "Picture", what: "One to one (100 %)", keys: "shift+f", shown: "Shift F" },
  { id: "closer", group: "Picture", what: "Closer", keys: "shift+equal", shown: "+" },
  { id: "farther", group: "Picture", what: "Farther", keys: "minus", shown: "−" },
  { id: "panLeft", group: "Picture", what: "Look further left", keys: "a", shown: "A" },
  { id: "panRight", group: "Picture", what: "Look further right", keys: "d", shown: "D" },
  { id: "panUp", group: "Picture", what: "Look further up", keys: "w", shown: "W" },
  { id: "panDown", group: "Picture", what: "Look further down", keys: "s", shown: "S" },
  { id: "grab", group: "Picture", what: "Drag the picture, while held (or middle button)", keys: "g", shown: "G" },
  { id: "plate", group: "Work", what: "Make this frame a plate", keys: "p", shown: "P" },
  { id: "paint", group: "Work", what: "Paint on the frames", keys: "b", shown: "B" },
  { id: "keyframe", group: "Work", what: "Opacity keyframe here, on or off", keys: "k", shown: "K" },
  { id: "undo", group: "Work", what: "Undo", keys: "mod+z", shown: "Ctrl Z" },
  { id: "redo", group: "Work", what: "Redo", keys: "mod+shift+z", shown: "Ctrl Shift Z" },
  { id: "delete", group: "Work", what: "Delete what is selected", keys: "delete,backspace", shown: "Del" },
  { id: "leave", group: "Work", what: "Leave off drawing, or leave the plate", keys: "escape", shown: "Esc" },
  { id: "close", group: "Work", what: "Close the outline", keys: "enter", shown: "Enter" },
  { id: "source", group: "Tools", what: "Brush: the source point is here", keys: "x", shown: "X" },
  { id: "ring", group: "Tools", what: "Brush: pull its ring to size, while held", keys: "r", shown: "R" },
  { id: "straight", group: "Tools", what: "Brush: a straight line from where the last stroke ended, while held", keys: "shift", shown: "Shift" },
  { id: "sourceLeft", group: "Tools", what: "Source one pixel left", keys: "shift+a", shown: "Shift A" },
  { id: "sourceRight", group: "Tools", what: "Source one pixel right", keys: "shift+d", shown: "Shift D" },
  { id: "sourceUp", group: "Tools", what: "Source one pixel up", keys: "shift+w", shown: "Shift W" },
  { id: "sourceDown", group: "Tools", what: "Source one pixel down", keys: "shift+s", shown: "Shift S" },
  { id: "veil", group: "Tools", what: "Source laid half through over the picture", keys: "v", shown: "V" },
  { id: "carry", group: "Tools", what: "The last frame's touches on this one, too", keys: "c", shown: "C" },
  { id: "carryHere", group: "Tools", what: "The same, moved to the pointer", keys: "shift+c", shown: "Shift C" },
  { id: "smaller", group: "Tools", what: "Brush smaller", keys: "bracketleft", shown: "[" },
  { id: "larger", group: "Tools", what: "Brush larger", keys: "bracketright", shown: "]" },
  { id: "tool", group: "Tools", what: "The tools of the stage, in their order", keys: "1,2,3,4,5,6,7", shown: "1 – 7" },
  { id: "keys", group: "Work", what: "All keys", keys: "shift+slash", shown: "?" },
] as const satisfies readonly KeyEntry[];

export type KeyId = (typeof KEYS)[number]["id"];

const byId = new Map<string, KeyEntry>(KEYS.map((k) => [k.id, k]));
export const keyOf = (id: KeyId): KeyEntry => byId.get(id)!;
