/** Two fingers on the stage: where their middle goes turns the view, how far they are apart zooms. */
interface At {
  x: number;
  y: number;
}

export interface FingersMoved {
  /** Of the middle, pixels. */
  by: [number, number];
  /** Below 1 the fingers spread, and the view comes nearer. */
  factor: number;
  middle: At;
}

type Finger = Pick<PointerEvent, 'pointerId' | 'clientX' | 'clientY' | 'pointerType'>;

export class TwoFingers {
  private readonly at = new Map<number, At>();

  /** @returns true when two fingers are down now; a third means nothing */
  down(e: Finger): boolean {
    if (e.pointerType !== 'touch' || this.at.size === 2) return false;
    this.at.set(e.pointerId, { x: e.clientX, y: e.clientY });
    return this.at.size === 2;
  }

  up(e: Finger): void {
    this.at.delete(e.pointerId);
  }

  moved(e: Finger): FingersMoved | null {
    if (this.at.size !== 2 || !this.at.has(e.pointerId)) return null;
    const before = this.span();
    this.at.set(e.pointerId, { x: e.clientX, y: e.clientY });
    const now = this.span();
    return {
      by: [now.x - before.x, now.y - before.y],
      factor: before.apart / Math.max(1, now.apart),
      middle: { x: now.x, y: now.y },
    };
  }

  private span(): At & { apart: number } {
    const [a, b] = [...this.at.values()];
    return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, apart: Math.max(1, Math.hypot(a.x - b.x, a.y - b.y)) };
  }
}
