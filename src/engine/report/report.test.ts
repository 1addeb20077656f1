import { describe, expect, it } from "vitest";
import { recipeWith } from "../../../testkit/pictures";
import type { PatchLayer } from "../../core/document/layer";
import { nameOf } from "../../core/proof/accepted";
import type { Finding, Proof } from "../../core/proof/finding";
import type { TakeInfo } from "../../wire/take";
import { reportCsv } from "./csv";
import { reportHtml } from "./html";
import { shotReport } from "./shot-report";

const finding = (more: Partial<Finding>): Finding => ({
  kind: "dead-grain",
  intruder: "i",
  layer: "l",
  in: 10,
  out: 20,
  worst: 12,
  box: { x0: 100, y0: 50, x1: 140, y1: 90 },
  value: 1.23456,
  limit: 0.25,
  says: "The grain stands still.",
  do: "Lay the grain of the footage.",
  remedy: "grain",
  ...more,
});
const leak = finding({ kind: "leak", value: 20, limit: 6, worst: 15, says: 'Some of <the "thing"> shows, here & there', do: "=cmd, widen it" });
const proof: Proof = { verdict: "faults", findings: [finding({}), leak], doubts: [], figures: {}, looked: "44 frames, nothing below 0.4 codes" };
const layer: PatchLayer = { id: "l", kind: "patch", in: 0, out: 9, source: { plate: "p" }, mask: { shapes: [] } };
const info = { timecode: "10:00:00:00", rate: [24, 1] } as unknown as TakeInfo;
const recipe = () => recipeWith([layer]);

/** Rows of a table as RFC 4180 has them, read by the letter of its grammar. */
function rows(csv: string): string[][] {
  const out: string[][] = [[]];
  let [field, quoted] = ["", false];
  for (let i = 0; i < csv.length; i++) {
    const c = csv[i];
    if (quoted) {
      if (c === '"' && csv[i + 1] === '"') field += csv[++i];
      else if (c === '"') quoted = false;
      else field += c;
    } else if (c === '"') quoted = true;
    else if (c === "," || c === "\r") {
      out.at(-1)!.push(field);
      field = "";
      if (c === "\r") {
        i++;
        out.push([]);
      }
    } else field += c;
  }
  return out.slice(0, -1);
}

describe("a report", () => {
  it("tells first what a viewer notices first, then what was accepted and why; and counts the timecode of the worst frame", () => {
    const r = { ...recipe(), proof: { accepted: [{ finding: nameOf(leak), value: 20, why: "Cut away there" }] } };
    const plain = shotReport("Hall", recipe(), { name: "Hall.mp4", info }, proof);
    expect(plain.findings.map((f) => f.kind)).toEqual(["leak", "dead-grain"]);
    expect(plain.findings[0].timecode).toBe("10:00:00:15");
    const accepted = shotReport("Hall", r, { name: "Hall.mp4", info }, proof);
    expect(accepted.findings.map((f) => [f.kind, f.accepted])).toEqual([["dead-grain", null], ["leak", "Cut away there"]]); // prettier-ignore
  });

  it("as a table has a row a finding, whatever its words hold, no formula, and one for a shot without any", () => {
    const all = rows(reportCsv([shotReport("Hall, the first", recipe(), { name: "a", info }, proof), shotReport("Quay", recipe(), { name: "b", info }, { ...proof, findings: [], verdict: "clean" })])); // prettier-ignore
    expect(new Set(all.map((r) => r.length)).size).toBe(1);
    expect(all).toHaveLength(4);
    const at = (name: string) => all[0].indexOf(name);
    expect([all[1][at("shot")], all[1][at("finding")], all[1][at("says")], all[1][at("do")]]).toEqual(["Hall, the first", "leak", leak.says, "'=cmd, widen it"]); // prettier-ignore
    expect([all[2][at("value")], all[2][at("left")], all[2][at("width")]]).toEqual(["1.235", "100", "40"]);
    expect(all[3].slice(0, 3)).toEqual(["Quay", "clean", ""]);
  });

  it("as a page holds its pictures in itself, and no word of it is taken for markup", () => {
    const report = shotReport("<script>alert(1)</script>", recipe(), { name: "a", info }, proof);
    const spots = new Map([[0, { taken: Buffer.from("one"), mended: Buffer.from("two") }]]);
    const html = reportHtml("All", "2031-01-02 03:04 UTC", [{ report, spots }]);
    expect(html).not.toContain("<script");
    expect(html).toContain("&lt;script&gt;");
    expect(html).toContain("Some of &lt;the &quot;thing&quot;&gt; shows, here &amp; there");
    expect(html.match(/<img src="data:image\/jpeg;base64,/g)).toHaveLength(2);
    expect(html).not.toMatch(/(src|href)="(?!data:)/);
    expect(html).toMatch(/Leak[\s\S]*Dead grain/);
  });
});
