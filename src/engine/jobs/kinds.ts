import type { Kind } from "./kind";
import { align } from "./kinds/align";
import { build } from "./kinds/build";
import { cameraRoundKind as cameraRound } from "./kinds/camera-round";
import { colour } from "./kinds/colour";
import { comeBack } from "./kinds/come-back";
import { cutOutKind as cutOut } from "./kinds/cut-out";
import { follow } from "./kinds/follow";
import { find } from "./kinds/find";
import { grain } from "./kinds/grain";
import { onPlanes, readIn } from "./kinds/picture";
import { prove } from "./kinds/prove";
import { render } from "./kinds/render";
import { still } from "./kinds/still";
import { survey } from "./kinds/survey";
import { writeOut } from "./kinds/write-out";

/** Every kind of job that runs in a process of its own. */
export const KINDS = {
  survey,
  find,
  build,
  align,
  follow,
  cameraRound,
  cutOut,
  grain,
  prove,
  render,
  still,
  colour,
  writeOut,
  comeBack,
  readIn,
  onPlanes,
};
export type KindName = keyof typeof KINDS;
export type SpecOf<K extends KindName> = (typeof KINDS)[K] extends Kind<infer S, unknown> ? S : never;
export type ResultOf<K extends KindName> = Awaited<ReturnType<(typeof KINDS)[K]["run"]>>;
