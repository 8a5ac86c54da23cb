/** How much points follow a soft selection, as it is drawn: found by the worker, the last answer shown until the next. */
import type { Soft } from '@urnsmith/core/select/soft';
import { builds, type WholeCage } from '../workers/builds';

class Gradient {
  private shown: { shape: WholeCage['shape']; weights: Float64Array } | null = null;
  private wanted = '';
  private asking = false;

  /**
   * @param version of the document: a drag that is still going on does not change what it follows
   * @returns weights per point; null until there is a first answer for this cage
   */
  of(
    id: string,
    cage: WholeCage,
    points: number[],
    { reach, falloff, along }: Soft,
    version: number,
  ): Float64Array | null {
    const key = JSON.stringify([id, version, reach, falloff, along, points]);
    if (key !== this.wanted || this.shown?.shape !== cage.shape) {
      this.wanted = key;
      if (!this.asking) void this.ask(id, cage.shape, points, { reach, falloff, along });
    }
    return this.shown?.shape === cage.shape ? this.shown.weights : null;
  }

  private async ask(id: string, shape: WholeCage['shape'], points: number[], soft: Soft): Promise<void> {
    this.asking = true;
    const key = this.wanted;
    const reply = await builds.ask(id, { kind: 'soft', points, soft });
    this.asking = false;
    if (!reply || !('weights' in reply)) return;
    this.shown = { shape, weights: reply.weights };
    // Showing it asks again when something else is wanted by now.
    if (key !== this.wanted) this.wanted = '';
    builds.touch();
  }
}

export const gradient = new Gradient();
