/** A gesture that only moves pieces has nothing built. Any other has the pieces built that depend on the change, each once. */
import { describe, expect, it } from 'vitest';
import { bell } from '../../demo/bell';
import { grille } from '../../demo/grille';
import { hatch } from '../../demo/hatch';
import { junctionBox } from '../../demo/junctionBox';
import { lantern } from '../../demo/lantern';
import { valve } from '../../demo/valve';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import { workedWith } from '@urnsmith/core/document/graph';
import type { Piece } from '@urnsmith/core/document/schema';
import { encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { Builds, type OpenPool } from '../src/workers/builds';

const SCENES: Record<string, () => { pieces: Piece[] }> = {
  hatch,
  lantern,
  bell,
  grille,
  valve,
  junctionBox,
};

/** Builds over a pool that only notes what it is asked for. */
function counted(pieces: Piece[]): { builds: Builds; asked: string[] } {
  const asked: string[] = [];
  const pool: OpenPool = () => ({
    request: (_, id) => void asked.push(id),
    prepare: async () => {},
    ask: async () => null,
    cancel: () => {},
    close: () => {},
    idle: true,
  });
  const builds = new Builds(pool);
  builds.show(pieces);
  asked.length = 0;
  return { builds, asked };
}

const placed = (pieces: Piece[], id: string, k: number): Piece[] =>
  pieces.map((p) => {
    if (p.id !== id) return p;
    const size = p.transform?.size ?? [1, 1, 1];
    const turn = (p.transform?.turn ?? [0, 0, 0]).map((a, i) => a + [7.3, -11.9, 3.1][i] * k);
    const move = (p.transform?.move ?? [0, 0, 0]).map((x, i) => x + [0.37, -0.11, 1.93][i] * k);
    const by = 1 + 0.01 * (k % 7);
    return { ...p, transform: { move, turn, size: size.map((s) => s * by) } as Piece['transform'] };
  });

/** The pieces whose users all lie inside them, so that moving them displaces nothing. */
function carriers(pieces: Piece[]): Piece[] {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  const inside = (id: string, carrier: string): boolean => {
    for (let at: string | undefined = id; at !== undefined; at = byId.get(at)?.parent)
      if (at === carrier) return true;
    return false;
  };
  const world = JSON.stringify;
  return pieces.filter((c) =>
    pieces.every(
      (p) =>
        workedWith(p).every((o) => inside(o, c.id) === inside(p.id, c.id)) &&
        !world(p.steps ?? []).includes('"about":"world"') &&
        !world(p.steps ?? []).includes('"peg"'),
    ),
  );
}

const madeOf = ({ base }: Piece): string[] =>
  'twin' in base ? [base.twin] : 'taken' in base ? [base.taken] : [];

describe.each(Object.keys(SCENES))('in the demo scene %s', (name) => {
  const { pieces } = SCENES[name]();

  it('nothing is built while a host, or whatever else carries all it works with, moves, turns and grows', () => {
    const all = carriers(pieces);
    expect(all.some((c) => workedWith(c).length || pieces.some((p) => p.parent === c.id))).toBe(true);
    for (const { id } of all) {
      const { builds, asked } = counted(pieces);
      for (let k = 1; k <= 20; k++) builds.show(placed(pieces, id, k), true);
      builds.show(placed(pieces, id, 20), false);
      expect(asked).toEqual([]);
    }
  });

  it('a cutter that moves has its host built, once a move, and nothing else that does not use it', () => {
    const cut = pieces.find(
      (p) =>
        workedWith(p).length &&
        workedWith(p).every((c) => pieces.find((x) => x.id === c && !('group' in x.base))),
    );
    if (!cut) return;
    for (const cutter of workedWith(cut).slice(0, 4)) {
      const { builds, asked } = counted(pieces);
      const users = pieces.filter((p) => workedWith(p).includes(cutter)).map((p) => p.id);
      const made = new Set(users);
      for (let size = 0; size < made.size;) {
        size = made.size;
        for (const p of pieces)
          if (workedWith(p).some((o) => made.has(o)) || madeOf(p).some((o) => made.has(o))) made.add(p.id);
      }
      builds.show(placed(pieces, cutter, 1), true);
      expect([...asked].sort()).toEqual([...made].sort());
    }
  });
});

describe('a host', () => {
  it('is the same to the bit after 200 moves, and not built again', async () => {
    await loadKernel();
    const nothing = () => {
      throw new Error('no stored mesh');
    };
    let { pieces } = bell();
    const hosts = carriers(pieces)
      .filter((c) => workedWith(c).length > 2)
      .slice(0, 1);
    expect(hosts.length).toBe(1);
    const e = new Evaluator({ blob: nothing, file: nothing });
    e.setPieces(pieces);
    const before = new Map(hosts.map(({ id }) => [id, e.build(id).mesh]));
    for (let k = 1; k <= 200; k++) {
      pieces = placed(pieces, hosts[k % hosts.length].id, 1);
      e.setPieces(pieces);
      for (const { id } of hosts) expect(e.build(id).mesh).toBe(before.get(id));
    }
    const anew = new Evaluator({ blob: nothing, file: nothing });
    anew.setPieces(pieces);
    for (const { id } of hosts) expect(encodeMesh(anew.build(id).mesh)).toEqual(encodeMesh(before.get(id)!));
  });
});
