/**
 * The history of faces: the step that made one, from a face made by earlier steps. Stored once for any number of
 * faces.
 */
import { BASE, CUTS, HAND } from './cameFrom';
import { hashOf, hashOfText } from './hash';

export interface Maker {
  /** Piece and step, `gear/cut1`; `gear` alone for its base, `gear#bevel2` for its second bevel by hand. */
  by: string;
  /** Makers of the faces it was made of. */
  from: ReadonlyArray<number>;
  /** As a number of `ORIGINS`. */
  cameFrom: number;
}

export class Makers {
  private readonly known = new Map<number, Maker>();

  /** The code of a maker; the same whenever the same led to it. @param cuts it made faces by cutting */
  add(by: string, from: ReadonlyArray<number>, cuts = false): number {
    const code = hashOf(hashOfText(by), ...from);
    if (!this.known.has(code)) {
      const own = cuts ? CUTS : by.includes('#') ? HAND : BASE;
      this.known.set(code, { by, from, cameFrom: Math.max(own, ...from.map((m) => this.cameFrom(m))) });
    }
    return code;
  }

  /** The origin of a maker's faces, as a number of `ORIGINS`. */
  cameFrom(code: number): number {
    return this.known.get(code)?.cameFrom ?? BASE;
  }

  /** All that led to a face, from the last to the first, each once. */
  story(code: number): string[] {
    const out = new Set<string>();
    const open = [code];
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      const maker = this.known.get(next);
      if (!maker) continue;
      out.add(maker.by);
      open.push(...maker.from);
    }
    return [...out];
  }
}
