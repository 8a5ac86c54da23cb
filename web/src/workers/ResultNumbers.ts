/**
 * Numbers for results: the same for a result that was there before, and for pieces of one shape, so that the page shows
 * what it has of it.
 */
import type { BuildResult } from '@urnsmith/core/build/report';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';

interface Numbered {
  number: number;
  results: BuildResult['results'];
  /** Where its anchored operands stand is told with it. */
  anchored: string;
}

export class ResultNumbers {
  private readonly ofMesh = new WeakMap<PolyMesh, Numbered[]>();
  /** The number of what each piece was last answered with. */
  private readonly answered = new Map<string, number>();
  private readonly uses = new Map<number, number>();
  /** Begun anywhere, so that a fresh worker does not take up the numbers of the one before. */
  private last = Math.floor(Math.random() * 2 ** 48);

  of({ mesh, results, steps }: BuildResult): number {
    const anchored = JSON.stringify(steps.map((s) => s.anchored ?? 0));
    let known = this.ofMesh.get(mesh);
    if (!known) this.ofMesh.set(mesh, (known = []));
    let same = known.find(
      (k) =>
        k.anchored === anchored &&
        k.results.length === results.length &&
        k.results.every((r, i) => r === results[i]),
    );
    if (!same) known.push((same = { number: ++this.last, results, anchored }));
    return same.number;
  }

  /** Some piece was last answered with it, so the page shows it. */
  isShown = (number: number): boolean => this.uses.has(number);

  shows(piece: string, number: number): void {
    const before = this.answered.get(piece);
    if (before === number) return;
    this.forget(piece);
    this.answered.set(piece, number);
    this.uses.set(number, (this.uses.get(number) ?? 0) + 1);
  }

  /** A piece is gone from the document, and with it from the page. */
  forget(piece: string): void {
    const number = this.answered.get(piece);
    if (number === undefined) return;
    this.answered.delete(piece);
    const left = this.uses.get(number)! - 1;
    if (left) this.uses.set(number, left);
    else this.uses.delete(number);
  }
}
