import type { ReportedFinding, ShotReport } from "./shot-report";

/** A field as RFC 4180 writes it. What a spreadsheet would take for a formula is given as text. */
function field(value: string | number): string {
  const text = typeof value === "number" ? String(value) : /^[=+\-@\t\r]/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

const HEAD = "shot,verdict,finding,thing,in,out,worst,timecode,left,top,width,height,value,limit,says,do,accepted".split(",");

/** A row a finding, one with nothing in it for a shot that has none (RFC 4180, UTF-8). */
export function reportCsv(shots: readonly ShotReport[]): string {
  const row = (s: ShotReport, f: ReportedFinding | null) => {
    if (!f) return [s.shot, s.verdict, ...HEAD.slice(2).map(() => "")];
    const { x0, y0, x1, y1 } = f.box;
    const figures = [Number(f.value.toFixed(3)), Number(f.limit.toFixed(3))];
    const at = [f.in, f.out, f.worst, f.timecode ?? "", x0, y0, x1 - x0, y1 - y0];
    return [s.shot, s.verdict, f.kind, f.thing, ...at, ...figures, f.says, f.do, f.accepted ?? ""];
  };
  const rows = shots.flatMap((s) => (s.findings.length ? s.findings.map((f) => row(s, f)) : [row(s, null)]));
  return [HEAD, ...rows].map((r) => r.map(field).join(",")).join("\r\n") + "\r\n";
}
