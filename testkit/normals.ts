import { random } from "../src/core/random";

/** Normal deviates, the same for the same seed (Box & Muller 1958). */
export function normals(seed: number): () => number {
  const rnd = random(seed);
  return () => Math.sqrt(-2 * Math.log(rnd() + 1e-12)) * Math.cos(2 * Math.PI * rnd());
}
