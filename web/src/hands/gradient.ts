/** How much points follow a soft selection, as it is drawn: found by the worker, the last answer shown until the next. */
import type { Soft } from '@urnsmith/core/select/soft';
import type { Builds, WholeCage } from '../workers/builds';
import { perScene } from '../state/perScene';

class Gradient {
  constructor(private readonly builds: Builds) {}

  private shown: { shape: WholeCage['shape']; weights: Float64Array } | null = null;
  /** The request, as it is compared: lists by identity, the rest by value. */
  private wanted: { points: Uint32Array; rest: string } | null = null;
  private asking = false;

  /**
   * @param points the same list as long as the same points are meant
   * @param version of the document: a drag that is still going on does not change what it follows
   * @returns weights per point; null until there is a first answer for this cage
   */
  of(
    id: string,
    cage: WholeCage,
    points: Uint32Array,
    { reach, falloff, along }: Soft,
    version: number,
  ): Float64Array | null {
    const rest = JSON.stringify([id, version, reach, falloff, along]);
    if (rest !== this.wanted?.rest || points !== this.wanted.points || this.shown?.shape !== cage.shape) {
      this.wanted = { points, rest };
      if (!this.asking) void this.ask(id, cage.shape, points, { reach, falloff, along });
    }
    return this.shown?.shape === cage.shape ? this.shown.weights : null;
  }

  private async ask(id: string, shape: WholeCage['shape'], points: Uint32Array, soft: Soft): Promise<void> {
    this.asking = true;
    const { wanted } = this;
    const reply = await this.builds.ask(id, { kind: 'soft', points: [...points], soft });
    this.asking = false;
    if (!reply || !('weights' in reply)) return;
    this.shown = { shape, weights: reply.weights };
    // Showing it asks again when something else is wanted by now.
    if (wanted !== this.wanted) this.wanted = null;
    this.builds.touch();
  }
}

/** One for each piece in hand. */
export class Gradients {
  private readonly ofPiece = new Map<string, Gradient>();

  constructor(private readonly builds: Builds) {}

  of(id: string, ...asked: Tail<Parameters<Gradient['of']>>): Float64Array | null {
    let own = this.ofPiece.get(id);
    if (!own) this.ofPiece.set(id, (own = new Gradient(this.builds)));
    return own.of(id, ...asked);
  }
}
type Tail<T extends unknown[]> = T extends [unknown, ...infer R] ? R : never;

export const gradientOf = perScene((scene) => new Gradients(scene.builds));
