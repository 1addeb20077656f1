/* How keys are written, read from events, and shown. */

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
