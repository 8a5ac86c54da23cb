/** The plain cut that all modes are made of. */
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Cutter } from '../solid/boolean';
import type { CutMode, CutResult } from '../solid/cutResult';

export interface Host {
  mesh: PolyMesh;
  name: string;
  id?: string;
}

/** A cut by one of the three plain modes. */
export type Plain = (host: Host, cutters: ReadonlyArray<Cutter>, mode: CutMode) => CutResult;
