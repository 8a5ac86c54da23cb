/** The cages of the pieces in hand; one of them leads. */
import { Group } from 'three';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import type { WholeCage } from '../workers/builds';
import { CageView, type CageLook } from './CageView';

export interface ShownCage {
  id: string;
  cage: WholeCage;
  matrix: Matrix;
  look: CageLook;
}

export class Cages {
  readonly group = new Group();
  private readonly shown = new Map<string, CageView>();
  /** Views of no piece: what is drawn only later is compiled with the first one. */
  private readonly spare: CageView[] = [];
  /** Shown while no piece leads. */
  private readonly none = new CageView();
  private leading = '';

  constructor() {
    this.group.add(this.none.group);
  }

  /** @param cages the one that leads last */
  show(cages: ReadonlyArray<ShownCage>): void {
    const wanted = new Set(cages.map((c) => c.id));
    for (const [id, view] of this.shown) {
      if (wanted.has(id)) continue;
      view.hide();
      this.spare.push(view);
      this.shown.delete(id);
    }
    for (const { id, cage, matrix, look } of cages) {
      let view = this.shown.get(id);
      if (!view) {
        view = this.spare.pop() ?? new CageView();
        this.group.add(view.group);
        this.shown.set(id, view);
      }
      view.show(cage, matrix, look);
    }
    this.leading = cages.at(-1)?.id ?? '';
  }

  /** The cage of the leading piece; empty where there is none. */
  get lead(): CageView {
    return this.shown.get(this.leading) ?? this.none;
  }

  of(id: string): CageView | null {
    return this.shown.get(id) ?? null;
  }

  all(): Array<[id: string, view: CageView]> {
    return [...this.shown];
  }

  dispose(): void {
    for (const view of [...this.shown.values(), ...this.spare, this.none]) view.dispose();
  }
}
