/**
 * A point of a take in pixels from the outer corner of its first sample, y downward: [x, y]; of an outline's curve point also its
 * arms, [x, y, in.dx, in.dy, out.dx, out.dy]; of a stroke also the pen's pressure, [x, y, 0 … 1].
 */
export type Point = readonly number[];

/** A closed outline: three or more corners or curve points, in order; it is filled by the even–odd rule. */
export type Outline = readonly Point[];

/** Fields that another form has and this one has not; so a form is told by the fields that are there. */
export type Without<K extends string> = { [Field in K]?: undefined };
