/** The place of a row or column of so many that is nearest to a whole number: beyond the border, the outermost. */
export const within = (v: number, size: number): number => (v < 0 ? 0 : v >= size ? size - 1 : v);
