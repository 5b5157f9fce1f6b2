import type { Csc } from "./csc.ts";

/**
 * Fill-reducing order of the columns by minimum degree on the pattern of A + Aᵀ, on a quotient graph: eliminated columns become elements
 * whose members are each other's neighbours, so that fill is never written out. Returns size n: position → column.
 *
 * Source: George & Liu, The evolution of the minimum degree ordering algorithm, SIAM Review 31 (1989). Degrees are the upper bounds
 * that element sizes give (Amestoy, Davis & Duff 1996).
 */
export function minimumDegree({ n, start, row }: Csc): Int32Array {
  const near: Set<number>[] = Array.from({ length: n }, () => new Set());
  const elements: Set<number>[] = Array.from({ length: n }, () => new Set());
  for (let k = 0; k < n; k++)
    for (let p = start[k]!; p < start[k + 1]!; p++) {
      const i = row[p]!;
      if (i === k) continue;
      near[i]!.add(k);
      near[k]!.add(i);
    }
  const members: (Set<number> | undefined)[] = new Array<Set<number> | undefined>(n);
  const degree = Int32Array.from(near, (s) => s.size);
  const order = new Int32Array(n);
  const done = new Uint8Array(n);
  // Columns by degree; a column is filed again whenever its degree changes, and stale entries are passed over.
  const buckets: number[][] = Array.from({ length: n + 1 }, () => []);
  for (let v = n - 1; v >= 0; v--) buckets[degree[v]!]!.push(v);
  let lowest = 0;
  for (let position = 0; position < n;) {
    const v = buckets[lowest]!.pop();
    if (v === undefined) {
      lowest++;
      continue;
    }
    if (done[v] === 1 || degree[v] !== lowest) continue;
    done[v] = 1;
    order[position++] = v;
    // The new element: all that v touches, by itself or through elements, which it swallows.
    const reach = new Set(near[v]);
    for (const e of elements[v]!) {
      for (const u of members[e]!) reach.add(u);
      members[e] = undefined;
    }
    reach.delete(v);
    members[v] = reach;
    for (const u of reach) {
      near[u]!.delete(v);
      for (const e of elements[u]!) if (members[e] === undefined) elements[u]!.delete(e);
      elements[u]!.add(v);
      // Neighbours inside the element are told by it.
      if (near[u]!.size > 0) for (const w of near[u]!) if (reach.has(w)) near[u]!.delete(w);
      let bound = near[u]!.size;
      for (const e of elements[u]!) bound += members[e]!.size - 1;
      const next = Math.min(bound, n - position);
      degree[u] = next;
      buckets[next]!.push(u);
      if (next < lowest) lowest = next;
    }
  }
  return order;
}
