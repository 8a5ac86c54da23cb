/** Sets of numbered items that are joined step by step (Tarjan 1975, with path halving). */
export class DisjointSets {
  private readonly parent: Int32Array;

  constructor(size: number) {
    this.parent = new Int32Array(size);
    for (let i = 0; i < size; i++) this.parent[i] = i;
  }

  /** The item that stands for the set of another. */
  find(i: number): number {
    const { parent } = this;
    while (parent[i] !== i) i = parent[i] = parent[parent[i]];
    return i;
  }

  join(a: number, b: number): void {
    this.parent[this.find(a)] = this.find(b);
  }
}
