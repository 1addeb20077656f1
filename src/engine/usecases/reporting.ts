import sharp from "sharp";
import type { Rect } from "../../core/pixels/frame";
import { shotTakeId, takeIds } from "../../recipe/query";
import type { ReportForm } from "../../wire/proof";
import { type Documents, NotFound } from "../db/documents";
import type { Library } from "../library/library";
import type { Proofs } from "../library/proofs";
import type { Takes } from "../library/takes";
import { writtenName } from "../render/names";
import { reportCsv } from "../report/csv";
import { reportHtml, type Spots } from "../report/html";
import { type ShotReport, shotReport } from "../report/shot-report";
import { step, type Watch } from "../watch";
import type { Shots } from "./shots";

/** Findings of a shot that are told with pictures: what a viewer notices first. */
const PICTURED = 12;
/** Parts in which it is told how far the measuring of one shot is. */
const PARTS = 1000;
/** Widest and least wide picture of a spot, in pixels of the take. */
const WIDE = { most: 832, least: 208 };

interface Told {
  report: ShotReport;
  spots: Spots;
}

/** What is still wrong in shots, as a file for others. */
export class Reporting {
  constructor(private readonly parts: { library: Library; documents: Documents; takes: Takes; shots: Shots; proofs: Proofs }) {}

  async ofShot(id: string, as: ReportForm, watch: Watch = {}) {
    const told = await this.told(id, as === "html", watch);
    return written(told.report.shot, [told], as);
  }

  /** Of all shots of a production, in their order; what was not measured yet is measured now. @throws NotFound where there is none */
  async ofProduction(id: string, as: ReportForm, watch: Watch = {}) {
    const production = (await this.parts.library.productions()).find((p) => p.id === id);
    if (!production) throw new NotFound("This production does not exist (any more).");
    const told: Told[] = [];
    for (const [k, s] of production.shots.entries()) {
      step(watch, k * PARTS, production.shots.length * PARTS);
      told.push(await this.told(s.id, as === "html", partOf(watch, k, production.shots.length)));
    }
    return written(production.name, told, as);
  }

  private async told(id: string, pictured: boolean, watch: Watch): Promise<Told> {
    const { library, documents, takes, shots, proofs } = this.parts;
    const { name } = await library.shotRow(id);
    const { recipe } = await documents.read(id);
    await takes.whole(takeIds(recipe));
    const proof = await proofs.of(await shots.forJob(id), watch);
    const takeId = shotTakeId(recipe);
    const take = await library.takeRow(takeId);
    const report = shotReport(name, recipe, { name: take.name, info: (await takes.index(takeId)).info }, proof);
    const spots = new Map<number, { taken: Buffer; mended: Buffer }>();
    if (pictured)
      for (const [i, f] of report.findings.slice(0, PICTURED).entries()) {
        const spot = async (what: "original" | "frame") => cutOut((await shots.still(id, what, f.worst)).png, f.box);
        spots.set(i, { taken: await spot("original"), mended: await spot("frame") });
      }
    return { report, spots };
  }
}

/** Of one of several things that take a while one after the other, its part of the whole. */
const partOf = ({ progress, signal }: Watch, k: number, of: number): Watch => ({
  progress: progress && ((done, total) => progress(Math.round(PARTS * (k + done / Math.max(1, total))), PARTS * of)),
  signal,
});

/** The spot of a finding with some of its surroundings, as JPEG. */
async function cutOut(png: Buffer, box: Rect): Promise<Buffer> {
  const { width = 0, height = 0 } = await sharp(png).metadata();
  const wanted = 1.8 * Math.max(box.x1 - box.x0, (box.y1 - box.y0) * 1.6);
  const w = Math.round(Math.min(width, Math.max(WIDE.least, wanted)));
  const h = Math.round(Math.min(height, w / 1.6));
  const left = Math.round(Math.min(width - w, Math.max(0, (box.x0 + box.x1 - w) / 2)));
  const top = Math.round(Math.min(height - h, Math.max(0, (box.y0 + box.y1 - h) / 2)));
  return sharp(png)
    .extract({ left, top, width: w, height: h })
    .resize({ width: Math.min(w, WIDE.most) })
    .jpeg({ quality: 88 })
    .toBuffer();
}

function written(title: string, told: Told[], as: ReportForm): { text: string; name: string } {
  const name = `${writtenName(title, "report")}.${as}`;
  const reports = told.map((t) => t.report);
  if (as === "csv") return { text: reportCsv(reports), name };
  if (as === "json") return { text: JSON.stringify({ title, shots: reports }, null, 1), name };
  return { text: reportHtml(title, new Date().toISOString().slice(0, 16).replace("T", " ") + " UTC", told), name };
}
