import { randomUUID } from "node:crypto";

/** What was noticed and somebody should know: shown on the first page until it is put away. */
export class Notices {
  private list: { id: string; words: string }[] = [];

  constructor(private readonly tell: () => void) {}

  add(words: string): void {
    if (this.list.some((n) => n.words === words)) return;
    this.list.push({ id: randomUUID(), words });
    this.tell();
  }
  all(): readonly { id: string; words: string }[] {
    return this.list;
  }
  putAway(id: string): void {
    this.list = this.list.filter((n) => n.id !== id);
    this.tell();
  }
}
