/** The most faces a step or an action may make, as the person set it; kept in the browser. */
import { LIMITS } from '@urnsmith/core/ops/operation';

const KEY = 'urnsmith.faceLimit';
export const FACE_LIMIT_RANGE = { minimum: 1000, maximum: 50_000_000 };

export function faceLimit(): number {
  try {
    const n = Number(globalThis.localStorage?.getItem(KEY));
    return n >= FACE_LIMIT_RANGE.minimum && n <= FACE_LIMIT_RANGE.maximum ? n : LIMITS.faces;
  } catch {
    return LIMITS.faces;
  }
}

export function setFaceLimit(faces: number): void {
  try {
    globalThis.localStorage?.setItem(KEY, String(faces));
  } catch {
    // Private windows may refuse storage; the usual limit stays.
  }
}
