/** Shading normals of the pieces in hand as they are drawn: asked of the worker, the last answer shown until the next. */
import { invert, applyMatrix, type Matrix } from '@urnsmith/core/mesh/transform';
import { unit, type Vec3 } from '@urnsmith/core/mesh/vec3';
import type { NormalLines } from '@urnsmith/core/shading/normalLines';
import type { Selection } from '@urnsmith/core/select/selection';
import { perScene } from '../state/perScene';
import type { Built, Builds } from '../workers/builds';

interface Known {
  built: Built;
  kind: Selection['kind'];
  picked: ReadonlyArray<number>;
  lines: NormalLines | null;
}

/** Ends of lines in the world, 6 numbers each. */
export interface DrawnNormals {
  held: Float32Array;
  free: Float32Array;
}

export class DrawnNormalsOf {
  private readonly known = new Map<string, Known>();
  private last: { key: unknown[]; drawn: DrawnNormals } | null = null;

  constructor(private readonly builds: Builds) {}

  /** @param size how long they are drawn, mm */
  of(
    pieces: ReadonlyArray<{ id: string; matrix: Matrix; selection: Selection }>,
    size: number,
  ): DrawnNormals {
    const shown = pieces.map((p) => ({ ...p, lines: this.linesOf(p.id, p.selection) }));
    const key = [size, ...shown.flatMap((p) => [p.lines, p.matrix.join()])];
    // The same arrays as long as nothing of them has changed.
    if (this.last && key.length === this.last.key.length && key.every((x, i) => x === this.last!.key[i]))
      return this.last.drawn;
    const [held, free]: [number[], number[]] = [[], []];
    for (const { lines, matrix } of shown) if (lines) addLines(lines, matrix, size, held, free);
    const drawn = { held: Float32Array.from(held), free: Float32Array.from(free) };
    this.last = { key, drawn };
    return drawn;
  }

  private linesOf(id: string, { kind, indices }: Selection): NormalLines | null {
    const built = this.builds.get(id);
    if (!built?.cage) return null;
    const before = this.known.get(id);
    if (before && before.built === built && before.kind === kind && before.picked === indices)
      return before.lines;
    const now: Known = { built, kind, picked: indices, lines: before?.lines ?? null };
    this.known.set(id, now);
    void this.builds.ask(id, { kind: 'normalLines', selection: { kind, indices } }).then((reply) => {
      if (this.known.get(id) !== now || !reply || !('normalLines' in reply)) return;
      now.lines = reply.normalLines;
      this.builds.touch();
    });
    return now.lines;
  }
}

function addLines(
  { at, normals, held }: NormalLines,
  m: Matrix,
  size: number,
  ofHeld: number[],
  ofFree: number[],
): void {
  const back = invert(m);
  for (let i = 0; i < held.length; i++) {
    const from = applyMatrix(m, at.subarray(3 * i, 3 * i + 3));
    const n = normals.subarray(3 * i, 3 * i + 3);
    const way = unit(
      [0, 1, 2].map((k) => back[4 * k] * n[0] + back[4 * k + 1] * n[1] + back[4 * k + 2] * n[2]) as Vec3,
    );
    (held[i] ? ofHeld : ofFree).push(...from, ...from.map((x, k) => x + size * way[k]));
  }
}

export const drawnNormals = perScene((scene) => new DrawnNormalsOf(scene.builds));
