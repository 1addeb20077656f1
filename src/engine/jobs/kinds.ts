import type { Kind } from "./kind";
import { align } from "./kinds/align";
import { build } from "./kinds/build";
import { find } from "./kinds/find";
import { render } from "./kinds/render";
import { survey } from "./kinds/survey";

/** Every kind of job that runs in a process of its own. */
export const KINDS = { survey, find, build, align, render };
export type KindName = keyof typeof KINDS;
export type SpecOf<K extends KindName> = (typeof KINDS)[K] extends Kind<infer S, unknown> ? S : never;
export type ResultOf<K extends KindName> = Awaited<ReturnType<(typeof KINDS)[K]["run"]>>;
