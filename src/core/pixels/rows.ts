/**
 * The cells of a straight row about its middle, for each of some directions over half a turn: steps across and down, as many as are asked
 * for. The longer of the two goes by whole cells, so that none is counted twice.
 * @param long cells to a row, odd
 */
export function rowsInDirections(long: number, directions: number): (readonly [number, number])[][] {
  return Array.from({ length: directions }, (_, d) => {
    const [co, si] = [Math.cos((Math.PI * d) / directions), Math.sin((Math.PI * d) / directions)];
    const k = 1 / Math.max(Math.abs(co), Math.abs(si));
    return Array.from({ length: long }, (_, i) => [Math.round((i - (long - 1) / 2) * k * co), Math.round((i - (long - 1) / 2) * k * si)] as const);
  });
}
