import { type FindingKind, KINDS } from "../../src/core/proof/finding";

/** What was said of one recipe of which it is known what is wrong with it. */
export interface Told {
  take: string;
  /** What is wrong: any of these says it; nothing of a good one. */
  kinds: readonly FindingKind[];
  /** Of each kind that was found the largest value, in its limits. */
  times: Partial<Record<FindingKind, number>>;
}

/** Limits that are tried, in times of those that stand. */
const TRIED = [1, 1.1, 1.25, 1.5, 2, 3];
/** A good patch that is called faulty costs as much as so many faults that are missed. */
const FALSE_ALARM = 5;

export type Limits = Record<FindingKind, number>;

/** Whether nothing is found of a good recipe, or of a wrong one what is wrong. */
export function isRight({ kinds, times }: Told, limits: Limits): boolean {
  const found = KINDS.filter((k) => (times[k] ?? 0) >= limits[k]);
  return kinds.length ? found.some((k) => kinds.includes(k)) : found.length === 0;
}

const cost = (list: readonly Told[], limits: Limits): number =>
  list.reduce((sum, t) => sum + (isRight(t, limits) ? 0 : t.kinds.length ? 1 : FALSE_ALARM), 0);

/** The limits that cost least on some recipes, kind by kind; of alike ones the lowest. */
export function limitsFor(list: readonly Told[]): Limits {
  const limits = Object.fromEntries(KINDS.map((k) => [k, 1])) as Limits;
  for (const k of KINDS) {
    const costs = TRIED.map((t) => cost(list, { ...limits, [k]: t }));
    limits[k] = TRIED[costs.indexOf(Math.min(...costs))];
  }
  return limits;
}

export interface LeftOut {
  kind: FindingKind;
  /** What was best on all takes, and the lowest and highest that was best where one take was left out. */
  limit: number;
  from: number;
  to: number;
  /** Limits that the worst of good recipes reaches; and the faintest fault of that kind that is found. */
  good: number | null;
  faintest: number | null;
  /** On takes left out, with the limits of the others: good recipes it is said of, and faults of its kind that nothing says. */
  falseAlarms: number;
  misses: number;
}

/** The limits of each kind, judged on each take by those that the other takes give. */
export function leftOut(all: readonly Told[]): LeftOut[] {
  const takes = [...new Set(all.map((t) => t.take))];
  const rounds = takes.map((take) => ({ limits: limitsFor(all.filter((t) => t.take !== take)), on: all.filter((t) => t.take === take) }));
  const best = limitsFor(all);
  return KINDS.map((kind) => {
    const own = rounds.map((r) => r.limits[kind]);
    const said = (list: readonly Told[]) => list.flatMap((t) => t.times[kind] ?? []);
    const [good, wrong] = [said(all.filter((t) => !t.kinds.length)), said(all.filter((t) => t.kinds.includes(kind)))];
    const count = (of: (t: Told, limits: Limits) => boolean) => rounds.reduce((n, { limits, on }) => n + on.filter((t) => of(t, limits)).length, 0);
    return {
      kind,
      limit: best[kind],
      from: Math.min(...own),
      to: Math.max(...own),
      good: good.length ? Math.max(...good) : null,
      faintest: wrong.length ? Math.min(...wrong) : null,
      falseAlarms: count((t, limits) => !t.kinds.length && (t.times[kind] ?? 0) >= limits[kind]),
      misses: count((t, limits) => t.kinds.includes(kind) && !isRight(t, limits)),
    };
  });
}
