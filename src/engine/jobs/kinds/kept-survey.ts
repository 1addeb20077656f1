import { readFile } from "node:fs/promises";
import type { Survey } from "../../../core/survey/survey";
import type { DataPaths } from "../../paths";
import { storedJson } from "../../stored-json";

/** The survey of a take; null where there is none, or it was cut off: then it is measured again when a page asks for it. */
export const keptSurvey = async (paths: DataPaths, take: string): Promise<Survey | null> =>
  storedJson<Survey>(await readFile(paths.survey(take), "utf8").catch(() => null));
