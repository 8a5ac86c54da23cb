/**
 * Triangles of a display between threads: while points only move they are what they were, and sending and drawing them
 * again would hold up the page. The worker leaves them out when they are as last sent; the page puts them back.
 */
import type { Display } from '@urnsmith/core/build/display';

/** The triangles the page has, with the number of the last display that has them. */
interface Sent extends Pick<Display, 'indices' | 'faceOfTriangle'> {
  number: number;
}

export class LastSent {
  private readonly byPiece = new Map<string, Sent>();

  /**
   * @param number of the display @param shown that of the one which the page shows
   * @returns the display to send; without triangles (empty lists) when they are as last sent and the page has those
   */
  toSend(piece: string, display: Display, number: number, shown: number | null): Display {
    const last = this.byPiece.get(piece);
    if (
      last &&
      last.number === shown &&
      sameList(last.indices, display.indices) &&
      sameList(last.faceOfTriangle, display.faceOfTriangle)
    ) {
      last.number = number;
      return { ...display, indices: new Uint32Array(0), faceOfTriangle: new Uint32Array(0) };
    }
    const { indices, faceOfTriangle } = display;
    this.byPiece.set(piece, { number, indices: indices.slice(), faceOfTriangle: faceOfTriangle.slice() });
    return display;
  }
}

/** @returns the display as it was built; null when what it leaves out is not there any more */
export function putBack(sent: Display, last: Display | null): Display | null {
  if (sent.indices.length || !sent.counts.triangles) return sent;
  return last && { ...sent, indices: last.indices, faceOfTriangle: last.faceOfTriangle };
}

function sameList(a: Uint32Array, b: Uint32Array): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}
