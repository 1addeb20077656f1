import { FIGURES } from "../../core/proof/finding";
import { FIGURE_WORDS, figureText, KIND_WORDS, VERDICT_WORDS } from "../../core/proof/words";
import type { ReportedFinding, ReportedPatch, ShotReport } from "./shot-report";

/** Pictures of the spots of a shot's findings, by their place in the list: as taken and as mended, as JPEG. */
export type Spots = ReadonlyMap<number, { taken: Buffer; mended: Buffer }>;

const ENTITIES: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" };
const text = (s: string): string => s.replace(/[&<>"']/g, (c) => ENTITIES[c]);
const image = (jpeg: Buffer, alt: string): string => `<img src="data:image/jpeg;base64,${jpeg.toString("base64")}" alt="${text(alt)}">`;

const STYLE = `
body { margin: 0 auto; max-width: 60rem; padding: 2rem 1.5rem 4rem; background: #f7f2e9; color: #2a231c; font: 15px/1.5 system-ui, sans-serif; }
h1 { font-size: 1.5rem; margin: 0 0 .25rem; }
h2 { font-size: 1.15rem; margin: 2.5rem 0 .25rem; padding-top: 1rem; border-top: 2px solid #c9b99f; }
.dim { color: #6b5d4c; }
.clean { color: #33623a; } .faults { color: #9c2f20; } .unsure { color: #7a5600; }
article { margin: 1.25rem 0; break-inside: avoid; }
h3 { font-size: 1rem; margin: 0; }
figure { display: inline-block; margin: .5rem 1rem 0 0; } figcaption { font-size: .8rem; color: #6b5d4c; }
img { display: block; max-width: 26rem; border: 1px solid #c9b99f; }
.accepted { opacity: .75; }
table { border-collapse: collapse; margin-top: 1rem; } th, td { text-align: left; padding: .2rem 1.5rem .2rem 0; border-bottom: 1px solid #ddd0bb; }
`;

function finding(f: ReportedFinding, spot: { taken: Buffer; mended: Buffer } | undefined): string {
  const frames = f.in === f.out ? `frame ${f.in}` : `frames ${f.in}–${f.out}, worst in ${f.worst}`;
  const times = (f.value / Math.max(f.limit, 1e-6)).toFixed(1);
  const pictures = spot
    ? `<figure>${image(spot.taken, `Frame ${f.worst} as it was taken`)}<figcaption>as taken</figcaption></figure>` +
      `<figure>${image(spot.mended, `Frame ${f.worst} as it is mended`)}<figcaption>mended</figcaption></figure>`
    : "";
  const state = f.accepted === null ? `<p>${text(f.do)}</p>` : `<p><strong>Accepted:</strong> ${text(f.accepted)}</p>`;
  const where = `${text(f.thing)}, ${frames}${f.timecode ? ` (${text(f.timecode)})` : ""}; ${times} times its limit`;
  return `<article${f.accepted === null ? "" : ' class="accepted"'}><h3>${KIND_WORDS[f.kind]}</h3><p class="dim">${where}</p><p>${text(f.says)}</p>${state}${pictures}</article>`;
}

/** What was measured of patches where it is worst. */
function figures(patches: readonly ReportedPatch[]): string {
  if (!patches.length) return "";
  const cell = (p: ReportedPatch, k: (typeof FIGURES)[number]) => (p.worst[k] ? `${figureText(k, p.worst[k].value)} at frame ${p.worst[k].f}` : "–");
  const rows = patches.map((p) => `<tr><td>${text(p.thing)}</td>${FIGURES.map((k) => `<td>${cell(p, k)}</td>`).join("")}</tr>`);
  const head = FIGURES.map((k) => `<th>${FIGURE_WORDS[k]}</th>`).join("");
  return `<table><thead><tr><th>Where it is worst</th>${head}</tr></thead><tbody>${rows.join("")}</tbody></table>`;
}

function section(s: ShotReport, spots: Spots): string {
  const list = s.findings.map((f, i) => finding(f, spots.get(i))).join("\n");
  const doubts = s.doubts.length ? `<h3>Could not be told</h3><ul>${s.doubts.map((d) => `<li>${text(d)}</li>`).join("")}</ul>` : "";
  return `<section><h2>${text(s.shot)}: <span class="${s.verdict}">${VERDICT_WORDS[s.verdict]}</span></h2>
<p class="dim">${text(s.take)}, frames ${s.in}–${s.out}. Looked at: ${text(s.looked)}.</p>
${list}${doubts}${figures(s.patches)}</section>`;
}

/** One page that stands alone: what was measured of some shots, with pictures of the spots. @param made when, as it is written there */
export function reportHtml(title: string, made: string, shots: readonly { report: ShotReport; spots: Spots }[]): string {
  const count = (s: ShotReport) => s.findings.filter((f) => f.accepted === null).length;
  const rows = shots.map(({ report: s }) => `<tr><td>${text(s.shot)}</td><td class="${s.verdict}">${VERDICT_WORDS[s.verdict]}</td><td>${count(s)}</td><td>${s.findings.length - count(s)}</td></tr>`); // prettier-ignore
  const table = `<table><thead><tr><th>Shot</th><th>Verdict</th><th>Counts</th><th>Accepted</th></tr></thead><tbody>${rows.join("")}</tbody></table>`;
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${text(title)}</title><style>${STYLE}</style></head>
<body><h1>${text(title)}</h1><p class="dim">What is still wrong, measured by Umber Moth. Made ${text(made)}.</p>
${shots.length > 1 ? table : ""}
${shots.map(({ report, spots }) => section(report, spots)).join("\n")}
</body></html>
`;
}
