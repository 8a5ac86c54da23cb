/** Measures the shading of a built piece: places, faults and the verdict. */
import { figuresOf } from '@urnsmith/core/build/repair';
import { shadedBefore } from '@urnsmith/core/build/shadeLane';
import { edgeLines } from '@urnsmith/core/inspect/edgeLines';
import { DisjointSets } from '@urnsmith/core/mesh/DisjointSets';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { topologyOf } from '@urnsmith/core/mesh/Topology';
import { faultLines, shadingFaults } from '@urnsmith/core/shading/faults';
import { residual } from '@urnsmith/core/shading/residual';
import { toldFault, verdictOf, type ToldFault, type Verdict } from '@urnsmith/core/build/verdict';
import { defineAside } from './define';

export interface SeenFault extends ToldFault {
  /** 6 numbers each, in the frame of the piece. */
  lines: Float64Array;
}

/** Faces beside each other whose shading leans. */
export interface LeaningPlace {
  faces: number;
  /** The most in it, degrees. */
  worst: number;
  /** Their edges, 6 numbers each, in the frame of the piece. */
  lines: Float64Array;
}

export interface SeenShading {
  verdict: Verdict;
  faults: SeenFault[];
  /** The worst first. */
  places: LeaningPlace[];
  /** Per face, the most it leans, degrees. */
  ofFace: Float32Array;
}

/** Places that are told at most, and faces of one that are drawn. */
const [MOST_PLACES, MOST_FACES] = [100, 2000];

export const shading = defineAside('shading', (_: object, shaded, watch): { seen: SeenShading } => {
  const { mesh } = shaded;
  watch(0);
  const faults = shadingFaults(mesh, shadedBefore(shaded)).map((f) => ({
    ...toldFault(f),
    lines: faultLines(mesh, f),
  }));
  watch(0);
  const figures = residual(mesh);
  return {
    seen: {
      verdict: verdictOf(figuresOf(figures), faults),
      faults,
      places: placesOf(mesh, figures.wrong, figures.ofFace),
      ofFace: figures.ofFace,
    },
  };
});

function placesOf(mesh: PolyMesh, wrong: ReadonlyArray<number>, ofFace: Float32Array): LeaningPlace[] {
  const t = topologyOf(mesh);
  const number = new Map(wrong.map((f, i) => [f, i]));
  const sets = new DisjointSets(wrong.length);
  wrong.forEach((f, i) => {
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const d = t.twin[c];
      const other = d < 0 ? undefined : number.get(t.faceOfCorner[d]);
      if (other !== undefined) sets.join(i, other);
    }
  });
  const together = new Map<number, number[]>();
  wrong.forEach((f, i) => {
    const root = sets.find(i);
    const list = together.get(root);
    if (list) list.push(f);
    else together.set(root, [f]);
  });
  return [...together.values()]
    .map((faces) => ({ faces, worst: faces.reduce((most, f) => Math.max(most, ofFace[f]), 0) }))
    .sort((a, b) => b.worst - a.worst)
    .slice(0, MOST_PLACES)
    .map(({ faces, worst }) => {
      const edges = new Set<number>();
      for (const f of faces.slice(0, MOST_FACES))
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) edges.add(t.edgeOfCorner[c]);
      return { faces: faces.length, worst, lines: edgeLines(mesh, [...edges]) };
    });
}
