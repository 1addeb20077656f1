import { uuid } from "../uuid";

export const round = (v: number, digits = 2) => Number(v.toFixed(digits));
export const newId = (prefix: string) => `${prefix}-${uuid().slice(0, 8)}`;
/** A file's name without its end. */
export const bare = (name: string): string => name.replace(/\.[^.]+$/, "");
