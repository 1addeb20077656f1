import { uuid } from "../uuid";

export const round = (v: number, digits = 2) => Number(v.toFixed(digits));
export const newId = (prefix: string) => `${prefix}-${uuid().slice(0, 8)}`;
