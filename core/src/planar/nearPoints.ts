/** Points of a mesh's faces that are so near each other that they are one, and can be one without tearing anything. */

/**
 * Sides of loops no longer than a reach, collapsed wherever the surface stays one (link condition: Dey, Edelsbrunner,
 * Guha & Nekhayev 1999, "Topology preserving edge contraction").
 * @param loops closed, edge to edge, consistently turned
 * @param mayChange whether a loop may change at all
 * @param p positions, 3 numbers per point
 * @param keep tells which of two points stays: the one it gives more for
 * @returns the point each merged one becomes; null when there is none
 */
export function mergesOfNear(
  loops: ReadonlyArray<ReadonlyArray<number>>,
  mayChange: (loop: number) => boolean,
  p: ArrayLike<number>,
  reach: number,
  keep: (point: number) => number,
): Map<number, number> | null {
  const near = (a: number, b: number): boolean =>
    (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2 <=
    reach * reach;
  const pairs: Array<[number, number]> = [];
  loops.forEach((loop, i) => {
    if (!mayChange(i)) return;
    loop.forEach((a, k) => {
      const b = loop[(k + 1) % loop.length];
      if (near(a, b)) pairs.push([a, b]);
    });
  });
  if (!pairs.length) return null;
  const wanted = new Set(pairs.flat());
  const facesAt = new Map<number, number[]>();
  loops.forEach((loop, i) => {
    for (const v of loop)
      if (wanted.has(v)) {
        const at = facesAt.get(v);
        if (at) at.push(i);
        else facesAt.set(v, [i]);
      }
  });
  const around = (v: number): Set<number> =>
    new Set(
      facesAt.get(v)!.flatMap((i) => {
        const loop = loops[i];
        const k = loop.indexOf(v);
        return [loop[(k + 1) % loop.length], loop[(k + loop.length - 1) % loop.length]];
      }),
    );
  const merges = new Map<number, number>();
  const busy = new Set<number>();
  for (const [a, b] of pairs) {
    const beside = [...around(a)].filter((v) => around(b).has(v));
    const triangles = facesAt
      .get(a)!
      .filter((i) => loops[i].length === 3 && loops[i].includes(b))
      .flatMap((i) => loops[i].filter((v) => v !== a && v !== b));
    // A neighbour that both share, apart from triangles between them, would fold the surface onto itself, and so
    // would a loop through both.
    const sharedFaces = facesAt.get(a)!.filter((i) => loops[i].includes(b)).length;
    if (beside.length !== triangles.length || sharedFaces > 2 || beside.length > 2) continue;
    const all = [a, b, ...around(a), ...around(b)];
    if (all.some((v) => busy.has(v))) continue;
    for (const v of all) busy.add(v);
    if (keep(a) >= keep(b)) merges.set(b, a);
    else merges.set(a, b);
  }
  return merges.size ? merges : null;
}
