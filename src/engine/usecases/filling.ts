import { BLOCK } from "../../wire/layout";
import type { Takes } from "../library/takes";
import type { FrameStore } from "../media/frame-store";

/** Fills the opened shot's exact frames, block after block, until another shot is opened or a take goes. */
export class Filling {
  private turn = 0;

  constructor(
    private readonly takes: Takes,
    private readonly store: FrameStore,
  ) {}

  async begin(takeId: string, from: number, to: number): Promise<void> {
    const mine = ++this.turn;
    const index = await this.takes.index(takeId);
    for (let k = Math.floor(from / BLOCK); k <= Math.floor(to / BLOCK) && mine === this.turn; k++) await this.store.block(takeId, index, k);
  }

  stop(): void {
    this.turn++;
  }
}
