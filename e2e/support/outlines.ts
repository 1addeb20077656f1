/** An outline round the boom of the ticket hall at frame 55, corner by corner. */
export const BOOM: readonly [number, number][] = [[575, 165], [575, 70], [632, 5], [660, -14], [930, -14], [880, 30], [780, 105], [700, 170], [620, 182]]; // prettier-ignore
