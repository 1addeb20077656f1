/** Neighbours of a node; the way back of direction d is 7 − d. */
export const DIRECTIONS = [
  [-1, -1],
  [0, -1],
  [1, -1],
  [-1, 0],
  [1, 0],
  [-1, 1],
  [0, 1],
  [1, 1],
] as const;
const WAYS = DIRECTIONS.length;

const [FREE, SOURCE, SINK] = [0, 1, 2];
/** In place of a direction to a parent: the terminal itself, and nobody. */
const [TERMINAL, NOBODY] = [8, 9];

/**
 * The minimum cut of nodes with up to eight neighbours each, by augmenting paths of two trees that are kept (Boykov & Kolmogorov 2004,
 * with their marks of time and distance). Whole numbers, so that nothing is left over by rounding.
 * @param near the nodes around each, 8 a node in the order of `DIRECTIONS`, −1 where there is none
 * @param capacity of the arcs to them, ≥ 0; used up by it @param terminal what the source gives less what the sink takes, a node; used up
 * @returns 1 for nodes that stay with the source
 */
export function minCut(near: Int32Array, capacity: Int32Array, terminal: Int32Array): Uint8Array {
  const n = terminal.length;
  const tree = new Uint8Array(n);
  const parent = new Uint8Array(n).fill(NOBODY);
  const stamp = new Int32Array(n);
  const far = new Int32Array(n);
  let time = 0;
  // nodes whose surroundings are to be looked at: a ring, each at most once in it
  const active = new Int32Array(n + 1);
  const waits = new Uint8Array(n);
  let [head, tail] = [0, 0];
  const activate = (p: number) => {
    if (waits[p]) return;
    waits[p] = 1;
    active[tail] = p;
    tail = tail === n ? 0 : tail + 1;
  };
  const orphans: number[] = [];

  for (let p = 0; p < n; p++) {
    if (!terminal[p]) continue;
    tree[p] = terminal[p] > 0 ? SOURCE : SINK;
    parent[p] = TERMINAL;
    far[p] = 1;
    activate(p);
  }

  /** What can still flow between a node and its parent, towards the sink. */
  const toParent = (p: number): number => {
    const d = parent[p];
    return tree[p] === SOURCE ? capacity[near[WAYS * p + d] * WAYS + 7 - d] : capacity[WAYS * p + d];
  };

  const push = (p: number, by: number) => {
    // up to the terminal; arcs that are full leave orphans
    while (parent[p] !== TERMINAL) {
      const d = parent[p];
      const q = near[WAYS * p + d];
      const [down, up] = [q * WAYS + 7 - d, WAYS * p + d];
      if (tree[p] === SOURCE) {
        capacity[down] -= by;
        capacity[up] += by;
      } else {
        capacity[up] -= by;
        capacity[down] += by;
      }
      const left = tree[p] === SOURCE ? capacity[down] : capacity[up];
      if (!left) {
        parent[p] = NOBODY;
        orphans.push(p);
      }
      p = q;
    }
    terminal[p] += tree[p] === SOURCE ? -by : by;
    if (!terminal[p]) {
      parent[p] = NOBODY;
      orphans.push(p);
    }
  };

  const augment = (s: number, t: number, arc: number, back: number) => {
    let by = capacity[arc];
    for (let p = s; ; p = near[WAYS * p + parent[p]]) {
      if (parent[p] === TERMINAL) {
        by = Math.min(by, terminal[p]);
        break;
      }
      by = Math.min(by, toParent(p));
    }
    for (let p = t; ; p = near[WAYS * p + parent[p]]) {
      if (parent[p] === TERMINAL) {
        by = Math.min(by, -terminal[p]);
        break;
      }
      by = Math.min(by, toParent(p));
    }
    capacity[arc] -= by;
    capacity[back] += by;
    push(s, by);
    push(t, by);
  };

  /** How far a node is from its terminal; Infinity where an orphan is on the way. */
  const distance = (p: number): number => {
    let d = 0;
    let q = p;
    for (;;) {
      if (stamp[q] === time) {
        d += far[q];
        break;
      }
      if (parent[q] === NOBODY) return Infinity;
      d++;
      if (parent[q] === TERMINAL) {
        stamp[q] = time;
        far[q] = 1;
        break;
      }
      q = near[WAYS * q + parent[q]];
    }
    let k = d;
    for (let r = p; stamp[r] !== time; r = near[WAYS * r + parent[r]]) {
      stamp[r] = time;
      far[r] = k--;
    }
    return d;
  };

  const adopt = (p: number) => {
    const own = tree[p];
    let [best, least] = [NOBODY, Infinity];
    for (let d = 0; d < WAYS; d++) {
      const q = near[WAYS * p + d];
      if (q < 0 || tree[q] !== own) continue;
      const flows = own === SOURCE ? capacity[WAYS * q + 7 - d] : capacity[WAYS * p + d];
      if (!flows) continue;
      const away = distance(q);
      if (away < least) [best, least] = [d, away];
    }
    if (best !== NOBODY) {
      parent[p] = best;
      stamp[p] = time;
      far[p] = least + 1;
      return;
    }
    for (let d = 0; d < WAYS; d++) {
      const q = near[WAYS * p + d];
      if (q < 0 || tree[q] !== own) continue;
      const flows = own === SOURCE ? capacity[WAYS * q + 7 - d] : capacity[WAYS * p + d];
      if (flows) activate(q);
      if (parent[q] === 7 - d) {
        parent[q] = NOBODY;
        orphans.push(q);
      }
    }
    tree[p] = FREE;
  };

  while (head !== tail) {
    const p = active[head];
    if (!tree[p]) {
      waits[p] = 0;
      head = head === n ? 0 : head + 1;
      continue;
    }
    let met = -1;
    for (let d = 0; d < WAYS; d++) {
      const q = near[WAYS * p + d];
      if (q < 0) continue;
      const flows = tree[p] === SOURCE ? capacity[WAYS * p + d] : capacity[WAYS * q + 7 - d];
      if (!flows) continue;
      if (tree[q] === FREE) {
        tree[q] = tree[p];
        parent[q] = 7 - d;
        stamp[q] = stamp[p];
        far[q] = far[p] + 1;
        activate(q);
      } else if (tree[q] !== tree[p]) {
        met = d;
        break;
      } else if (stamp[q] <= stamp[p] && far[q] > far[p] + 1) {
        parent[q] = 7 - d;
        stamp[q] = stamp[p];
        far[q] = far[p] + 1;
      }
    }
    if (met < 0) {
      waits[p] = 0;
      head = head === n ? 0 : head + 1;
      continue;
    }
    time++;
    const q = near[WAYS * p + met];
    if (tree[p] === SOURCE) augment(p, q, WAYS * p + met, WAYS * q + 7 - met);
    else augment(q, p, WAYS * q + 7 - met, WAYS * p + met);
    for (let o = orphans.pop(); o !== undefined; o = orphans.pop()) adopt(o);
  }
  return tree.map((t) => (t === SOURCE ? 1 : 0));
}
