/** Numbers for results: the same for a result that was there before, so that the page shows what it has kept of it. */
import { Recent } from '@urnsmith/core/Recent';
import { STATES } from '@urnsmith/core/build/StepResults';
import type { BuildResult } from '@urnsmith/core/build/report';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';

interface Numbered {
  number: number;
  mesh: PolyMesh;
  results: BuildResult['results'];
  /** Where its anchored operands stand is told with it. */
  anchored: string;
}

export class ResultNumbers {
  private readonly byPiece = new Map<string, Recent<Numbered>>();
  /** Begun anywhere, so that a fresh worker does not take up the numbers of the one before. */
  private last = Math.floor(Math.random() * 2 ** 48);

  of(piece: string, { mesh, results, steps }: BuildResult): number {
    const anchored = JSON.stringify(steps.map((s) => s.anchored ?? 0));
    let known = this.byPiece.get(piece);
    if (!known) this.byPiece.set(piece, (known = new Recent<Numbered>(2 * STATES)));
    const same = known.find(
      (k) =>
        k.mesh === mesh &&
        k.anchored === anchored &&
        k.results.length === results.length &&
        k.results.every((r, i) => r === results[i]),
    );
    return (same ?? known.add({ number: ++this.last, mesh, results, anchored })).number;
  }
}
