/** How much wider than a half-size picture it may lie on the screen, for nobody to see that it is one while it moves. */
const UNSEEN = 1.2;
/** Beyond this even a slow machine shows the whole. */
const COARSEST = 3;
/** Weight of the newest time among those before. */
const NEWEST = 0.2;
/** After so many small pictures the whole is tried again. */
const TRY_AGAIN = 240;

/** Decides at which size pictures are made while they move. */
export class Pace {
  /** Milliseconds a picture at full quick size takes, on the whole; null before one was made. */
  private whole: number | null = null;
  private since = 0;

  took(quality: "quick" | "small", ms: number): void {
    if (quality === "small") this.since++;
    else {
      this.whole = this.whole === null ? ms : this.whole + NEWEST * (ms - this.whole);
      this.since = 0;
    }
  }

  /**
   * @param width of the quick frame @param shown device pixels the picture is wide on the screen @param rate frames a second as a fraction
   */
  choose(width: number, shown: number, [num, den]: readonly [number, number]): "quick" | "small" {
    const half = width / 2;
    if (shown <= UNSEEN * half) return "small";
    const budget = (1000 * den) / num;
    const slow = this.whole !== null && this.whole > 0.9 * budget;
    return slow && shown <= COARSEST * half && this.since < TRY_AGAIN ? "small" : "quick";
  }
}
