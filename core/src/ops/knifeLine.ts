/** The view of a knife line, and the traces it leaves. */
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Vec3 } from '../mesh/vec3';

/** How a line lies over the piece, in its frame. */
export interface Sight {
  /** Direction looked along. */
  view: Vec3;
  /** The eye's position; without it the view is parallel. */
  eye?: Vec3;
  /** Faces behind the first are cut too. */
  through: boolean;
  /** Depth behind the first face that is cut, mm; 0 cuts all of them. */
  depth: number;
}

export interface Cut {
  mesh: PolyMesh;
  /** End points of the edges along the line. */
  lines: Array<[number, number]>;
  sourceFace: Int32Array;
}
