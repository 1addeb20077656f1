import { readCube } from "../../core/look/cube";
import { lookHarder } from "../../core/look/harder";
import { layLook, type Look, lookOf } from "../../core/look/look";
import { viewingTable } from "../../core/look/viewing";
import type { FromWorker, Glass, View } from "./protocol";

/** Views that show a picture as it is, and not a measure of it. */
const PICTURES: readonly View["kind"][] = ["result", "original", "plate", "patch", "hole"];

/** What goes to the screen, seen through a look or what its take needs to be looked at, and a harder way to look. */
export class Seen {
  private glass: Glass = { table: null, harder: null, tagged: null };
  private look: Look | null = null;
  private viewing: Look | null = null;

  set(glass: Glass): void {
    if (glass.table?.text !== this.glass.table?.text) this.look = glass.table && lookOf(readCube(glass.table.text));
    const { tagged } = glass;
    if (tagged?.transfer !== this.glass.tagged?.transfer || tagged?.primaries !== this.glass.tagged?.primaries) {
      const table = tagged && viewingTable(tagged);
      this.viewing = table && lookOf(table);
    }
    this.glass = glass;
  }

  /** Changes the pixels of a picture, or of a part of one, in place. */
  through(m: FromWorker): void {
    if (m.type === "picture" && PICTURES.includes(m.view.kind)) for (const d of [m.data, m.original]) if (d) this.lay(d, m.width);
    if (m.type === "part" && m.data.byteLength) this.lay(m.data, m.rect.x1 - m.rect.x0);
  }

  private lay(data: ArrayBuffer, width: number): void {
    const pixels = new Uint8ClampedArray(data);
    // a look begins at the code values of such a take itself, as tables for them do
    if (this.look) layLook(pixels, this.look, this.glass.table!.strength);
    else if (this.viewing) layLook(pixels, this.viewing, 1);
    if (this.glass.harder) lookHarder(pixels, width, this.glass.harder);
  }
}
