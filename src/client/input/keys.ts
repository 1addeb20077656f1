/** Every key of the editor, in one place: what it does, where it is shown, which key it is unless somebody has chosen another. */
export interface KeyEntry {
  id: string;
  group: "Time" | "Picture" | "Work" | "Tools";
  what: string;
  /** As react-hotkeys-hook writes them; several are separated by commas. */
  keys: string;
  /** It works while it is held, so it must be a single key. */
  held?: boolean;
}

export const KEYS = [
  { id: "play", group: "Time", what: "Play, or stop", keys: "space" },
  { id: "playBack", group: "Time", what: "Play backward, or stop", keys: "shift+space" },
  { id: "slower", group: "Time", what: "Shuttle back, each time faster", keys: "q" },
  { id: "faster", group: "Time", what: "Shuttle on, each time faster", keys: "e" },
  { id: "loop", group: "Time", what: "Play round and round, or once", keys: "l" },
  { id: "markIn", group: "Time", what: "The marked stretch begins here", keys: "shift+i" },
  { id: "markOut", group: "Time", what: "The marked stretch ends here", keys: "shift+o" },
  { id: "unmark", group: "Time", what: "No stretch is marked", keys: "shift+u" },
  { id: "back", group: "Time", what: "One frame back", keys: "left" },
  { id: "on", group: "Time", what: "One frame on", keys: "right" },
  { id: "back10", group: "Time", what: "Ten frames back", keys: "shift+left" },
  { id: "on10", group: "Time", what: "Ten frames on", keys: "shift+right" },
  { id: "first", group: "Time", what: "First frame", keys: "home" },
  { id: "last", group: "Time", what: "Last frame", keys: "end" },
  { id: "prevKey", group: "Time", what: "Previous keyframe", keys: "comma" },
  { id: "nextKey", group: "Time", what: "Next keyframe", keys: "period" },
  { id: "goTo", group: "Time", what: "Go to a frame that is typed", keys: "t" },
  { id: "in", group: "Time", what: "Selected patch begins here", keys: "i" },
  { id: "out", group: "Time", what: "Selected patch ends here", keys: "o" },
  { id: "peekOriginal", group: "Picture", what: "Original, while held", keys: "backquote", held: true },
  { id: "peekMatte", group: "Picture", what: "Matte alone, while held", keys: "m", held: true },
  { id: "peekPatch", group: "Picture", what: "Selected patch alone, while held", keys: "n", held: true },
  { id: "peekHole", group: "Picture", what: "Footage with its hole, while held", keys: "j", held: true },
  { id: "wipe", group: "Picture", what: "Wipe between original and mended", keys: "8" },
  { id: "difference", group: "Picture", what: "Difference from the original, amplified", keys: "9" },
  { id: "beside", group: "Picture", what: "Original beside the mended picture", keys: "0" },
  { id: "handles", group: "Picture", what: "Handles off or on", keys: "h" },
  { id: "ghosts", group: "Picture", what: "Shapes of the keyframes beside, off or on", keys: "y" },
  { id: "alone", group: "Picture", what: "The picture alone on the whole screen", keys: "z" },
  { id: "panes", group: "Picture", what: "Panes folded, or as usual", keys: "shift+z" },
  { id: "fit", group: "Picture", what: "Whole picture", keys: "f" },
  { id: "full", group: "Picture", what: "One to one (100 %)", keys: "shift+f" },
  { id: "closer", group: "Picture", what: "Closer", keys: "shift+equal" },
  { id: "farther", group: "Picture", what: "Farther", keys: "minus" },
  { id: "panLeft", group: "Picture", what: "Look further left", keys: "a" },
  { id: "panRight", group: "Picture", what: "Look further right", keys: "d" },
  { id: "panUp", group: "Picture", what: "Look further up", keys: "w" },
  { id: "panDown", group: "Picture", what: "Look further down", keys: "s" },
  { id: "grab", group: "Picture", what: "Drag the picture, while held (or middle button)", keys: "g", held: true },
  { id: "plate", group: "Work", what: "Make this frame a plate", keys: "p" },
  { id: "paint", group: "Work", what: "Paint on the frames", keys: "b" },
  { id: "keyframe", group: "Work", what: "Opacity keyframe here, on or off", keys: "k" },
  { id: "curve", group: "Work", what: "Curve of a value, open or closed", keys: "shift+k" },
  { id: "holds", group: "Work", what: "Changes of shapes hold from here, or throughout", keys: "shift+y" },
  { id: "undo", group: "Work", what: "Undo", keys: "mod+z" },
  { id: "redo", group: "Work", what: "Redo", keys: "mod+shift+z" },
  { id: "history", group: "Work", what: "Everything that was done", keys: "shift+h" },
  { id: "copy", group: "Work", what: "Copy keyframes, patch or intruder", keys: "mod+c" },
  { id: "paste", group: "Work", what: "Paste them here", keys: "mod+v" },
  { id: "delete", group: "Work", what: "Delete what is selected", keys: "delete,backspace" },
  { id: "leave", group: "Work", what: "Leave off drawing, let go, or leave the plate", keys: "escape" },
  { id: "close", group: "Work", what: "Close the outline", keys: "enter" },
  { id: "keys", group: "Work", what: "All keys", keys: "shift+slash" },
  { id: "tool1", group: "Tools", what: "First tool of the stage", keys: "1" },
  { id: "tool2", group: "Tools", what: "Second tool", keys: "2" },
  { id: "tool3", group: "Tools", what: "Third tool", keys: "3" },
  { id: "tool4", group: "Tools", what: "Fourth tool", keys: "4" },
  { id: "tool5", group: "Tools", what: "Fifth tool", keys: "5" },
  { id: "tool6", group: "Tools", what: "Sixth tool", keys: "6" },
  { id: "tool7", group: "Tools", what: "Seventh tool", keys: "7" },
  { id: "cross", group: "Tools", what: "Draw by keys: the arrows move a cross, Space presses, Enter closes", keys: "shift+x" },
  { id: "pickAll", group: "Tools", what: "Mask: pick all points", keys: "mod+a" },
  { id: "round", group: "Tools", what: "Mask: picked points to curves, or to corners", keys: "u" },
  { id: "nudgeLeft", group: "Tools", what: "Picked points, or the source, one pixel left", keys: "shift+a" },
  { id: "nudgeRight", group: "Tools", what: "One pixel right", keys: "shift+d" },
  { id: "nudgeUp", group: "Tools", what: "One pixel up", keys: "shift+w" },
  { id: "nudgeDown", group: "Tools", what: "One pixel down", keys: "shift+s" },
  { id: "source", group: "Tools", what: "Brush: the source point is here", keys: "x" },
  { id: "ring", group: "Tools", what: "Brush: pull its ring to size, while held", keys: "r", held: true },
  { id: "straight", group: "Tools", what: "Brush: a straight line from the last stroke's end, while held", keys: "shift", held: true },
  { id: "veil", group: "Tools", what: "Source laid half through over the picture", keys: "v" },
  { id: "carry", group: "Tools", what: "The last frame's touches on this one, too", keys: "c" },
  { id: "carryHere", group: "Tools", what: "The same, moved to the pointer", keys: "shift+c" },
  { id: "smaller", group: "Tools", what: "Brush smaller", keys: "bracketleft" },
  { id: "larger", group: "Tools", what: "Brush larger", keys: "bracketright" },
] as const satisfies readonly KeyEntry[];

export type KeyId = (typeof KEYS)[number]["id"];
/** Keys that are others than the usual ones. */
export type OwnKeys = Readonly<Record<string, string>>;

const byId = new Map<string, KeyEntry>(KEYS.map((k) => [k.id, k]));

/** The keys of something. */
export const keysOf = (id: KeyId, own: OwnKeys): string => own[id] ?? byId.get(id)!.keys;

const SIGNS: Record<string, string> = {
  space: "Space", left: "←", right: "→", up: "↑", down: "↓", comma: ",", period: ".", backslash: "\\", equal: "=", minus: "−",
  bracketleft: "[", bracketright: "]", slash: "/", semicolon: ";", quote: "'", backquote: "`", delete: "Del", backspace: "Backspace",
  escape: "Esc", enter: "Enter", home: "Home", end: "End", pageup: "Page up", pagedown: "Page down", insert: "Ins",
  mod: "Ctrl", shift: "Shift", alt: "Alt", "shift+slash": "?", "shift+equal": "+",
}; // prettier-ignore

/** A key as it is shown. */
export function shownKeys(keys: string): string {
  const [first] = keys.split(",");
  if (SIGNS[first]) return SIGNS[first];
  return first.split("+").map((k) => SIGNS[k] ?? k.toUpperCase()).join(" "); // prettier-ignore
}

/** The codes of a key that works while it is held. */
export function heldCodes(keys: string): string[] {
  if (/^[a-z]$/.test(keys)) return [`Key${keys.toUpperCase()}`];
  if (/^\d$/.test(keys)) return [`Digit${keys}`];
  if (keys === "backslash") return ["Backslash", "IntlBackslash"];
  if (keys === "shift") return ["ShiftLeft", "ShiftRight"];
  return [
    keys.charAt(0).toUpperCase() +
      keys.slice(1).replace(/^(bracket)(left|right)$/, (_, a: string, b: string) => a + b.charAt(0).toUpperCase() + b.slice(1)),
  ];
}

interface Pressed {
  code: string;
  ctrlKey: boolean;
  metaKey: boolean;
  shiftKey: boolean;
  altKey: boolean;
}

/** The key that an event tells of, as it is written here; null for a modifier alone. */
export function pressedKey(e: Pressed): string | null {
  const m = /^(?:Key([A-Z])|Digit(\d)|Arrow(\w+)|(\w+))$/.exec(e.code);
  if (!m || /^(Control|Shift|Alt|Meta|OS)/.test(e.code)) return null;
  const key = (m[1] ?? m[2] ?? m[3] ?? (m[4] === "IntlBackslash" ? "backslash" : m[4])).toLowerCase();
  return [e.ctrlKey || e.metaKey ? "mod" : "", e.shiftKey ? "shift" : "", e.altKey ? "alt" : "", key].filter(Boolean).join("+");
}

/** What the browser keeps for itself, or moves about the page with. */
const BROWSER = /^(mod\+(shift\+)?[wtnqrlpdfhjou]|mod\+\d|mod\+tab|alt\+(left|right|home|f4)|f\d+|(shift\+)?tab|mod\+(equal|minus|0))$/;

/** Why a key cannot be given to something, as a sentence; null where it can. */
export function whyNot(id: KeyId, keys: string, own: OwnKeys): string | null {
  const entry = byId.get(id)!;
  if (BROWSER.test(keys)) return `${shownKeys(keys)} belongs to the browser: choose another key.`;
  if (entry.held && keys.includes("+")) return `This works while a key is held, so it needs a single key: ${shownKeys(keys)} is more than one.`;
  const other = KEYS.find((k) => k.id !== id && keysOf(k.id, own).split(",").includes(keys));
  return other ? `${shownKeys(keys)} is taken by “${other.what}”: give that another key first.` : null;
}

/** The keys that are left when one is set; setting the usual one forgets the choice. */
export function withOwnKey(own: OwnKeys, id: KeyId, keys: string | null): Record<string, string> {
  const { [id]: _, ...rest } = own;
  return keys === null || keys === byId.get(id)!.keys ? rest : { ...rest, [id]: keys };
}
