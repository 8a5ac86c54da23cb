/** The other pieces a step works with, as they are built and as they stand to its own. */
import { anchored, anchorKey } from '../document/anchors';
import type { AnchoredPiece } from '../select/anchor';
import type { GroupMembers } from '../document/groupMembers';
import { completeTransform, matrixBetween } from '../document/placement';
import type { Piece } from '../document/schema';
import type { PolyMesh } from '../mesh/PolyMesh';
import { transformMatrix } from '../mesh/transform';
import type { Operand } from '../steps/define';
import type { BuildResult } from './report';
import { STEPS, type Step } from '../steps';

/** Operands of one document, while its pieces are being built. */
export class Operands {
  private readonly joined = new Map<string, ReadonlySet<string>>();

  /** @param results of pieces that are built; what a step works with is built before it */
  constructor(
    private readonly pieces: ReadonlyMap<string, Piece>,
    private readonly members: GroupMembers,
    private readonly results: ReadonlyMap<string, BuildResult>,
  ) {}

  /** Groups among them stand for the pieces in them. */
  expanded(ids: ReadonlyArray<string>): string[] {
    return this.members.expanded(ids, (id) => this.pieces.get(id));
  }

  /** @param ids what the step names @param input the mesh it works on */
  of(piece: Piece, step: Step, ids: string[], input: PolyMesh): Operand[] {
    const active = this.expanded(ids).filter((c) => this.pieces.has(c));
    const joins = STEPS[step.kind].joins?.(step as never) ?? false;
    /** Marks operands that lie within earlier ones. */
    const within = new Set<string>();
    return active.map((id) => {
      const built = this.results.get(id)!;
      const own = this.pieces.get(id)!;
      const holds = own.parent === piece.id && (own.anchors?.length || own.reach);
      const anchor = holds ? anchored(input, own, built.mesh) : null;
      const failed = built.steps.find((s) => s.fault);
      const inside = joins && within.has(id);
      if (joins) for (const x of this.joinedInto(id)) within.add(x);
      return {
        id,
        name: own.name ?? id,
        mesh: built.mesh,
        matrix: anchor
          ? transformMatrix(completeTransform(anchor.transform))
          : matrixBetween(this.pieces, id, piece.id),
        ...(anchor && { anchor }),
        failed: failed?.fault?.message,
        inside,
      };
    });
  }

  /** Placements of operands that are anchored to the host. */
  anchored(operands: ReadonlyArray<Operand>): AnchoredPiece[] | undefined {
    const out = operands.flatMap(({ id, anchor }): AnchoredPiece[] => {
      if (!anchor) return [];
      const { transform, anchors } = anchor;
      return [{ id, from: anchorKey(this.pieces.get(id)!), transform, ...(anchors && { anchors }) }];
    });
    return out.length ? out : undefined;
  }

  /** Pieces that lie within another's result because nothing but joining them made it. */
  private joinedInto(id: string): ReadonlySet<string> {
    const known = this.joined.get(id);
    if (known) return known;
    const inside = new Set<string>();
    this.joined.set(id, inside);
    const steps = (this.pieces.get(id)!.steps ?? []).filter((s) => !s.off && !STEPS[s.kind].shadesOnly);
    const held = steps.map((s) => STEPS[s.kind].holds?.(s as never) ?? null);
    const built = this.results.get(id);
    if (!built?.steps.some((s) => s.fault) && held.every((h) => h !== null))
      for (const c of this.expanded(held.flat()).filter((x) => this.results.has(x))) {
        inside.add(c);
        for (const x of this.joinedInto(c)) inside.add(x);
      }
    return inside;
  }
}
