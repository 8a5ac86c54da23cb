/** Finds and keeps what a scene was last seen as, by a key of all that decides how it is built. */
import type { Piece } from '@urnsmith/core/document/schema';
import type { BuildPool } from './BuildPool';
import { faceLimit } from './faceLimit';
import type { DisplayList } from './LastDisplays';

export type Keeper = Pick<BuildPool['aside'], 'keepDisplays' | 'lastDisplays'>;

/** The address of the page's script names what the interface was built of: another one may build pieces otherwise. */
const MADE_OF = [...(globalThis.document?.scripts ?? [])].map((s) => s.src).join();

export async function lastSeen(keeper: Keeper, scene: string, pieces: Piece[]): Promise<DisplayList> {
  const key = await keyOf(pieces);
  return key ? keeper.lastDisplays(scene, key) : [];
}

export async function keepSeen(
  keeper: Keeper,
  scene: string,
  pieces: Piece[],
  displays: DisplayList,
): Promise<void> {
  const key = await keyOf(pieces);
  if (key) await keeper.keepDisplays(scene, key, displays);
}

/** Null where the browser makes no keys, as on an address that is not secure. */
async function keyOf(pieces: Piece[]): Promise<string | null> {
  if (!globalThis.crypto?.subtle) return null;
  const text = JSON.stringify([MADE_OF, faceLimit(), pieces]);
  const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', new TextEncoder().encode(text)));
  return [...hash].map((b) => b.toString(16).padStart(2, '0')).join('');
}
