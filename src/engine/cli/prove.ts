import type { Finding, Verdict } from "../../core/proof/finding";
import { settled } from "../../core/proof/accepted";
import { prove } from "../analysis/prove";
import { readRecipe, resolvePictures, resolveTakes } from "../render/recipe-file";
import { said, withStore } from "./store";
import { options, Usage } from "./usage";

/** What the shell is told: as with all commands 0 is well, 1 a failure and 2 wrong use. */
const STATUS: Record<Verdict, number> = { clean: 0, faults: 3, unsure: 4 };

/** `umber prove RECIPE.json --json` */
export async function proveCommand(args: string[]): Promise<void> {
  const { values, rest } = options(args, { json: "boolean" });
  if (rest.length !== 1) throw new Usage("prove needs one RECIPE.json");
  const recipe = await readRecipe(rest[0]);
  const proof = await withStore(async (store, folder) => {
    const takes = await resolveTakes(recipe, rest[0], folder);
    const pictures = await resolvePictures(recipe, rest[0], takes, store);
    return settled(await prove({ recipe, takes, pictures }, store, { progress: said("frames looked at") }), recipe.proof?.accepted);
  });
  if (process.stderr.isTTY) process.stderr.write("\n");
  process.exitCode = STATUS[proof.verdict];
  console.log(
    values.json
      ? JSON.stringify(
          {
            ...proof,
            figures: undefined,
            findings: proof.findings.map(published),
            accepted: proof.accepted.map((a) => ({ ...published(a.finding), why: a.why })),
          },
          null,
          1,
        )
      : inWords(proof),
  );
}

/** A finding as it is published: its box as left, top, width and height. */
function published({ outline: _, shift: __, ...f }: Finding) {
  const { x0, y0, x1, y1 } = f.box;
  return { ...f, box: [x0, y0, x1 - x0, y1 - y0], value: Number(f.value.toFixed(3)), limit: Number(f.limit.toFixed(3)) };
}

function inWords({ verdict, findings, accepted, doubts, looked }: ReturnType<typeof settled>): string {
  const line = (f: Finding) => `${f.kind}, ${f.intruder} / ${f.layer}, ${f.in}–${f.out}, worst ${f.worst}: ${f.says} ${f.do}`;
  const taken = accepted.map((a) => `accepted (${a.why}): ${line(a.finding)}`);
  return [
    verdict,
    ...findings.map(line),
    ...taken,
    ...doubts.map((d) => `unsure, ${d.intruder} / ${d.layer}: ${d.says}`),
    `Looked at: ${looked}.`,
  ].join("\n");
}
