/**
 * A scene as one file: a zip of `scene.json` (name, version, document), `meshes/HASH.mesh` (stored meshes) and, if
 * there is one, `picture.png`. See docs/scene-file.md.
 */
import { strFromU8, strToU8, unzip, zipSync, type UnzipFileInfo } from 'fflate';
import { parseJson, JsonError } from '../schema/json';
import { upgradeDocument, VersionError } from '../document/migrations';
import { meshesOf, type SceneDocument } from '../document/sections';
import { documentFaults, pieceListFaults } from '../document/validate';
import { OperationError } from '../mesh/errors';
import { contentHash, decodeMesh } from './meshBlob';

export const ARCHIVE_LIMITS = {
  /** Bytes of the file, and of all that is packed in it. */
  packed: 256 * 1024 * 1024,
  unpacked: 1024 * 1024 * 1024,
  files: 6000,
  json: 64 * 1024 * 1024,
  picture: 1024 * 1024,
};

export interface SceneFile {
  name: string;
  document: SceneDocument;
  /** Bytes of every stored mesh the document needs, by hash. */
  meshes: ReadonlyMap<string, Uint8Array>;
  picture?: Uint8Array;
}

const MESH_NAME = /^meshes\/([0-9a-f]{64})\.mesh$/;

export function packScene({ name, document, meshes, picture }: SceneFile): Uint8Array {
  const files: Record<string, Uint8Array> = {
    'scene.json': strToU8(JSON.stringify({ urnsmith: 'scene', name, document }, null, 1)),
  };
  for (const [hash, bytes] of meshes) files[`meshes/${hash}.mesh`] = bytes;
  if (picture) files['picture.png'] = picture;
  // A fixed date: the same scene gives the same bytes.
  return zipSync(files, { mtime: new Date(2000, 0, 1), level: 6 });
}

/** @throws OperationError `bad-archive` for anything that is not a sound scene file */
export async function unpackScene(bytes: Uint8Array): Promise<SceneFile> {
  const files = await unpacked(bytes);
  const text = files['scene.json'] ?? refuse('it has no scene.json');
  const { name, document } = readScene(strFromU8(text));
  const meshes = new Map<string, Uint8Array>();
  for (const hash of meshesOf(document)) {
    const mesh = files[`meshes/${hash}.mesh`] ?? refuse(`the mesh ${hash.slice(0, 12)}… is missing`);
    if ((await contentHash(mesh)) !== hash) refuse(`the mesh ${hash.slice(0, 12)}… is damaged`);
    decodeMesh(mesh);
    meshes.set(hash, mesh);
  }
  return { name, document, meshes, picture: files['picture.png'] };
}

function readScene(text: string): { name: string; document: SceneDocument } {
  let value: { urnsmith?: unknown; name?: unknown; document?: unknown };
  try {
    value = parseJson(text) as typeof value;
  } catch (e) {
    if (e instanceof JsonError) return refuse(`scene.json: ${e.message}`);
    throw e;
  }
  if (value?.urnsmith !== 'scene') refuse('scene.json does not say that it is a scene');
  const name = typeof value.name === 'string' && value.name.trim() ? value.name : 'Scene';
  const old = value.document as { pieces?: unknown } | undefined;
  try {
    if (Array.isArray(old?.pieces)) {
      const faults = pieceListFaults(old.pieces);
      if (faults.length) refuse(`${faults[0].path}: ${faults[0].message}`);
    }
    const document = upgradeDocument(old);
    const faults = documentFaults(document);
    if (faults.length) refuse(`${faults[0].path}: ${faults[0].message}`);
    return { name, document };
  } catch (e) {
    if (e instanceof VersionError) return refuse(e.message.replace(/\.$/, ''));
    throw e;
  }
}

/** Unpacks only the files a scene has, none larger than it may be; sizes are looked at before anything is unpacked. */
function unpacked(bytes: Uint8Array): Promise<Record<string, Uint8Array>> {
  if (bytes.length > ARCHIVE_LIMITS.packed) refuse('it is larger than 256 MB');
  let total = 0;
  let count = 0;
  let excess = '';
  const filter = ({ name, originalSize }: UnzipFileInfo): boolean => {
    const limit =
      name === 'scene.json'
        ? ARCHIVE_LIMITS.json
        : name === 'picture.png'
          ? ARCHIVE_LIMITS.picture
          : MESH_NAME.test(name)
            ? ARCHIVE_LIMITS.packed
            : 0;
    if (++count > ARCHIVE_LIMITS.files) excess ||= `it holds more than ${ARCHIVE_LIMITS.files} files`;
    if (!limit) return false;
    total += originalSize;
    if (originalSize > limit || total > ARCHIVE_LIMITS.unpacked) excess ||= `“${name}” would be too large`;
    return !excess;
  };
  return new Promise((resolve, reject) => {
    const done = (e: Error | null, files: Record<string, Uint8Array>): void => {
      if (excess) reject(refusal(excess));
      else if (e) reject(refusal('it is not a zip file, or a damaged one'));
      else resolve(files);
    };
    try {
      unzip(bytes, { filter }, done);
    } catch {
      done(new Error(), {});
    }
  });
}

const refusal = (why: string): OperationError =>
  new OperationError(
    'bad-archive',
    `The scene file cannot be read: ${why}.`,
    undefined,
    'Save it again, or take another copy of it.',
  );
const refuse = (why: string): never => {
  throw refusal(why);
};
