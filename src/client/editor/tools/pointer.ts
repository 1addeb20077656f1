import type { Point } from "../../../core/document/geometry";
import type { Gesture, Mods } from "./gesture";

/** What is told of a pointer, as the browser tells it. */
export interface Told {
  clientX: number;
  clientY: number;
  timeStamp: number;
  shiftKey: boolean;
  altKey: boolean;
  /** Of a pen, 0–1; of others it does not change while they are down. */
  pressure?: number;
}
/** The same, with the places that were passed since the last event, where the browser keeps them. */
export type Passed<E extends Told> = E & { getCoalescedEvents?: () => E[] };

/** A gesture under way, with what it has drawn so far. */
export interface Drawn {
  gesture: Gesture;
  points: Point[];
  mods: Mods;
}

/** Who keeps the one gesture that Escape and undo break off. */
interface Keeper {
  gestureBegins: (cancel: () => void) => void;
  gestureEnds: () => void;
}

const placeOf = (e: Told) => `${e.clientX} ${e.clientY} ${e.pressure ?? ""}`;
export const modsOf = (e: Pick<Told, "shiftKey" | "altKey">): Mods => ({ shift: e.shiftKey, alt: e.altKey });

/**
 * The one pipe from a pointer to a tool: press, moves (each place once, however often it is told), release; a lost pointer, Escape
 * and undo cancel. After a cancel nothing is committed, whatever the pointer still says.
 */
export class PointerPipe {
  private now: { g: Gesture; until: number; at: string; drawn: Drawn } | null = null;

  /**
   * @param keeper is told when something begins and ends
   * @param changed is told what is drawn meanwhile; null for nothing
   */
  constructor(
    private readonly keeper: Keeper,
    private readonly changed: (drawn: Drawn | null) => void,
  ) {}

  get live(): boolean {
    return this.now !== null;
  }

  /** A press that begins a gesture, once one still under way is cancelled; `make` may give none. Whether one has begun. */
  begin(make: () => Gesture | null, e: Told, at: Point): boolean {
    this.cancel();
    const g = make();
    if (!g) return false;
    const drawn = { gesture: g, points: [at], mods: modsOf(e) };
    this.now = { g, until: e.timeStamp, at: placeOf(e), drawn };
    this.keeper.gestureBegins(this.cancel);
    this.changed(drawn);
    return true;
  }

  /** Goes on by what an event tells and none before it has told. */
  move<E extends Told>(e: Passed<E>, place: (e: E) => Point): void {
    const now = this.now;
    if (!now || now.at === placeOf(e)) return;
    const events = e.getCoalescedEvents?.() ?? [];
    const fresh = (events.length ? events : [e as E]).filter((c) => c.timeStamp > now.until);
    if (!fresh.length) return;
    now.until = fresh.at(-1)!.timeStamp;
    now.at = placeOf(e);
    const points = fresh.map(place);
    now.g.move(points, modsOf(e));
    const { trace } = now.g;
    if (!trace) return;
    const free = trace === "loop" || trace === "stroke";
    now.drawn = { gesture: now.g, points: free ? [...now.drawn.points, ...points] : [now.drawn.points[0], points.at(-1)!], mods: modsOf(e) };
    this.changed(now.drawn);
  }

  /** The release. */
  up(e: Told, at: Point): void {
    const now = this.clear();
    now?.g.end(at, modsOf(e));
  }

  readonly cancel = (): void => {
    const now = this.clear();
    now?.g.cancel();
  };

  private clear() {
    const now = this.now;
    if (!now) return null;
    this.now = null;
    this.changed(null);
    this.keeper.gestureEnds();
    return now;
  }
}
