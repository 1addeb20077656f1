import type { Editor } from "../editor";
import type { EditorState } from "../state/editor";

export const GROUPS = ["Time", "Picture", "Work", "Tools"] as const;

/** What commands do on the page round the editor. */
export interface Page {
  /** Puts the focus into the field for a frame's number. */
  typeFrame(): void;
  /** Puts the focus on the picture, for drawing by keys. */
  focusPicture(): void;
  togglePanes(): void;
  copy(): void;
  paste(): void;
  zoomBy(factor: number): void;
  /** Moves the picture by screen pixels. */
  panBy(dx: number, dy: number): void;
  /** A step on the screen as a step on the picture, which may lie turned. */
  turned(right: number, down: number): [number, number];
  /** Presses the button or link that has the focus; whether one had. */
  pressFocused(): boolean;
  /** Takes the focus from a button, so that a key does not press it as well. */
  unfocus(): void;
}

interface Entry {
  group: (typeof GROUPS)[number];
  /** What it does, in the words of the keys page. */
  says: string;
  /** The usual keys as react-hotkeys-hook writes them; several are separated by commas. */
  keys: string;
}

/** What a key does when it is pressed. */
export interface PressCommand extends Entry {
  /** Whether there is anything for it to do; without it, always. */
  when?: (s: EditorState) => boolean;
  run: (editor: Editor, page: Page) => void;
}

/** What a key does while it is held: it must be a single key. */
export interface HoldCommand extends Entry {
  held: (editor: Editor, down: boolean) => void;
}

export type Command = PressCommand | HoldCommand;
