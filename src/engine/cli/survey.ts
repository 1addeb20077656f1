import { join } from "node:path";
import { sentences } from "../../core/survey/sentences";
import { surveyTake } from "../analysis/survey";
import { asListed, type Opening, readSource } from "../render/recipe-file";

import { options, Usage } from "./usage";
import { said, withStore } from "./store";

/** `umber survey FILE [--json]` */
export async function surveyCommand(args: string[]): Promise<void> {
  const { values, rest } = options(args, { json: "boolean" });
  if (rest.length !== 1) throw new Usage("survey needs one FILE");
  const { index, survey } = await withStore(async (_, folder) => {
    const measured = async (how: Opening) => {
      const index = await readSource(rest[0], undefined, join(folder, "stills"), how);
      return { index, survey: await surveyTake(index, { progress: said("frames measured") }) };
    };
    return asListed(measured);
  });
  const { info } = index;
  const facts = {
    frames: info.frames,
    width: info.width,
    height: info.height,
    rate: info.rate,
    pixelFormat: info.pixelFormat,
    sound: info.sound !== null,
    timecode: info.timecode,
    variableRate: info.variableRate,
    colour: info.colour,
    ...survey,
    notes: info.notes,
  };
  if (process.stderr.isTTY) process.stderr.write("\n");
  if (values.json) console.log(JSON.stringify(facts, null, 2));
  else
    console.log(
      [
        `${info.frames} frames, ${info.width}×${info.height}, ${+(info.rate[0] / info.rate[1]).toFixed(3)} frames a second, ${info.pixelFormat}, ${info.sound ? "with" : "without"} sound`,
        ...Object.values(sentences(survey)),
        ...info.notes,
      ].join("\n"),
    );
}
