/** The contract of a file format: its file says its name, what it keeps, and how it is written and read. */
import type { PolyMesh } from '../mesh/PolyMesh';
import type { ExportOptions, Part, Unit } from './part';

/** A mesh of a file that was read. */
export interface NamedMesh {
  name: string;
  mesh: PolyMesh;
}

export interface FormatDefinition<E extends string> {
  /** Of its files' names; also what it is called. */
  extension: E;
  /** One sentence on what its files hold. */
  about: string;
  /** Media type of its files; further ones that are taken too. */
  media: string;
  mediaToo?: ReadonlyArray<string>;
  /** Data that survives an export and import. */
  keeps: { polygons: boolean; normals: boolean; uvs: boolean; materials: boolean };
  /** The unit its readers take for granted. */
  unit: Unit;
  /** The axis that points up, where the format defines it. */
  up?: ExportOptions['up'];
  write?(parts: Part[], options: ExportOptions): Uint8Array | Promise<Uint8Array>;
  /** @throws OperationError with the place at fault */
  read?(bytes: Uint8Array): NamedMesh[];
  /** Larger files are not read, bytes. */
  most?: number;
}

export const defineFormat = <const E extends string>(d: FormatDefinition<E>): Readonly<FormatDefinition<E>> =>
  d;
