import type { Recipe } from "../../core/document/recipe";
import type { Colour } from "../../core/pixels/colour";
import type { Frame } from "../../core/pixels/frame";
import { toRgba8 } from "../../core/pixels/toRgb";
import type { Rgba } from "./views";

/** Rows converted before anything else has its turn: a few milliseconds. */
const SLICE = 96;

/** The picture that a step in the same direction will ask for, made ready bit by bit while nothing else is to be done. */
export class Ahead {
  private recipe: Recipe | null = null;
  private n = -1;
  private frame: Frame | null = null;
  private colour: Colour | null = null;
  private data = new Uint8ClampedArray(0);
  private row = 0;

  /** Begins with the composed frame `n` of a recipe; what was made before is forgotten. */
  begin(recipe: Recipe, n: number, frame: Frame, colour: Colour): void {
    Object.assign(this, { recipe, n, frame, colour, row: 0 });
    this.data = new Uint8ClampedArray(frame.width * frame.height * 4);
  }

  has(recipe: Recipe, n: number): boolean {
    return this.frame !== null && this.recipe === recipe && this.n === n;
  }

  /** Goes on until all is done or somebody else needs the time. */
  async goOn(mayGoOn: () => boolean): Promise<void> {
    while (this.frame && mayGoOn() && this.row < this.frame.height) {
      this.convert(this.row + SLICE);
      await turn();
    }
  }

  /** The picture of frame `n` as it is in `recipe`, if it was begun; what is missing is done now. It is given away. */
  take(recipe: Recipe, n: number): Rgba | null {
    if (!this.has(recipe, n)) return null;
    this.convert(Infinity);
    const { width, height } = this.frame!;
    const data = this.data.buffer;
    this.frame = null;
    return { width, height, data };
  }

  private convert(to: number): void {
    const { width, height } = this.frame!;
    const y1 = Math.min(height, to);
    if (y1 <= this.row) return;
    toRgba8(this.frame!, this.colour!, { x0: 0, y0: this.row, x1: width, y1 }, this.data.subarray(4 * width * this.row, 4 * width * y1), "linear");
    this.row = y1;
  }
}

/** Lets what waits have its turn; timers would wait four milliseconds each time. */
function turn(): Promise<void> {
  return new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(0);
  });
}
