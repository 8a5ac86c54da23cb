/**
 * The history of faces: the step that made one, from a face made by earlier steps. Stored once for any number of
 * faces.
 */
import { hashOf, hashOfText } from './hash';

export interface Maker {
  /** Piece and step, `gear/cut1`; `gear` alone for its base, `gear#bevel2` for its second bevel by hand. */
  by: string;
  /** Makers of the faces it was made of. */
  from: ReadonlyArray<number>;
}

export class Makers {
  private readonly known = new Map<number, Maker>();

  /** The code of a maker; the same whenever the same led to it. */
  add(by: string, from: ReadonlyArray<number>): number {
    const code = hashOf(hashOfText(by), ...from);
    if (!this.known.has(code)) this.known.set(code, { by, from });
    return code;
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
