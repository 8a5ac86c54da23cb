/** All mesh file formats. A new one is a file beside these and a line in this list. */
import { OperationError } from '../mesh/errors';
import type { FormatDefinition, NamedMesh } from './define';
import { glb } from './glb';
import { gltf } from './gltf';
import { obj } from './obj';
import type { ExportOptions, Part } from './part';
import { ply } from './ply';
import { stl } from './stl';

const ALL = [glb, gltf, obj, stl, ply] as const;

export type Format = (typeof ALL)[number]['extension'];

type AnyFormat = FormatDefinition<Format>;

export const FORMATS: Readonly<Record<Format, AnyFormat>> = Object.fromEntries(
  ALL.map((f) => [f.extension, f]),
) as unknown as Record<Format, AnyFormat>;
const LIST = Object.values(FORMATS);

/** Formats that are written, and those that are read, in the order they are offered. */
export const WRITTEN: ReadonlyArray<Format> = LIST.filter((f) => f.write).map((f) => f.extension);
export const READ: ReadonlyArray<Format> = LIST.filter((f) => f.read).map((f) => f.extension);

/** The format of a file by its name; null where none is known. */
export function formatOf(name: string): Format | null {
  const extension = /\.([^./\\]+)$/.exec(name)?.[1].toLowerCase();
  return LIST.find((f) => f.extension === extension)?.extension ?? null;
}

/** @throws OperationError where the format is only read */
export async function writeParts(format: Format, parts: Part[], o: ExportOptions): Promise<Uint8Array> {
  const { write } = FORMATS[format];
  if (!write) throw new OperationError('no-format', `${format.toUpperCase()} files cannot be written.`);
  return write(parts, o);
}

/** @throws OperationError where the format is only written, or with the place at fault in the file */
export function readMeshes(format: Format, bytes: Uint8Array): NamedMesh[] {
  const { read } = FORMATS[format];
  if (!read) throw new OperationError('no-format', `${format.toUpperCase()} files cannot be read.`);
  return read(bytes);
}
