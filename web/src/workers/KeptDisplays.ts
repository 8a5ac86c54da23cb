/** Displays by their number, as long as any piece shows one, or it is kept for undo and redo. */
import { Recent } from '@urnsmith/core/Recent';
import { STATES } from '@urnsmith/core/build/StepResults';
import { buffersOf, type Display } from '@urnsmith/core/build/display';

interface Kept {
  number: number;
  display: Display;
  bytes: number;
}

/** Displays kept of one piece take no more than this, bytes. */
const KEPT_BYTES = 32 << 20;
/** Displays noted before those that are gone are looked for. */
const NOTED = 500;

export class KeptDisplays {
  private readonly byPiece = new Map<string, Recent<Kept>>();
  /** Pieces of one shape share their display. */
  private readonly byNumber = new Map<number, WeakRef<Display>>();
  private noted = NOTED;

  /** The numbers kept for a piece. */
  numbersOf(piece: string): number[] {
    const kept = this.byPiece.get(piece)?.all() ?? [];
    return kept.map((k) => k.number);
  }

  find(piece: string, number: number): Display | null {
    const kept = this.byPiece.get(piece)?.find((k) => k.number === number);
    return kept?.display ?? this.byNumber.get(number)?.deref() ?? null;
  }

  /** Takes note of a display that is shown; this alone does not keep it. */
  note(number: number, display: Display): void {
    this.byNumber.set(number, new WeakRef(display));
    if (this.byNumber.size < 2 * this.noted) return;
    for (const [n, d] of this.byNumber) if (!d.deref()) this.byNumber.delete(n);
    this.noted = Math.max(NOTED, this.byNumber.size);
  }

  /** Keeps a display of a piece for undo and redo. */
  keep(piece: string, number: number, display: Display): void {
    let kept = this.byPiece.get(piece);
    if (!kept) this.byPiece.set(piece, (kept = new Recent<Kept>(STATES, (k) => k.bytes, KEPT_BYTES)));
    if (kept.find((k) => k.number === number)) return;
    const bytes = buffersOf(display).reduce((sum, b) => sum + b.byteLength, 0);
    kept.add({ number, display, bytes });
  }

  forget(piece: string): void {
    this.byPiece.delete(piece);
  }

  clear(): void {
    this.byPiece.clear();
    this.byNumber.clear();
  }
}
