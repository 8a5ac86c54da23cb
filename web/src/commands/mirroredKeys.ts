/** The keys with the hands swapped: every letter, digit and sign goes to the place opposite on the keyboard. */
import type { ChangedKeys } from '@urnsmith/core/settings/keys';
import { KEYMAP, keyOf } from './keymap';

/** Rows of the keyboard, plain and as Shift makes them; what stands at one end goes to the other. */
const ROWS = ['1234567890', 'qwertyuiop', 'asdfghjkl;', 'zxcvbnm,./'];
const SHIFTED = ['!@#$%^&*()', 'QWERTYUIOP', 'ASDFGHJKL:', 'ZXCVBNM<>?'];

/** Keys that are the same on every program of a computer stay where they are. */
const STAYS = /^Ctrl\+/;

/** A key's opposite, spelled as the keymap spells keys: Shift with a sign is the sign that comes of it. */
export function opposite(keys: string): string {
  if (STAYS.test(keys)) return keys;
  const cap = keys.slice(keys.lastIndexOf('+', keys.length - 2) + 1);
  const held = keys.slice(0, keys.length - cap.length);
  const sign = SHIFTED.some((r) => !/[A-Z]/.test(cap) && r.includes(cap));
  const shift = sign || held.includes('Shift+');
  for (const [k, row] of ROWS.entries()) {
    const at = (sign ? SHIFTED[k] : row).indexOf(cap);
    if (at < 0) continue;
    const to = row.length - 1 - at;
    const rest = held.replace('Shift+', '');
    if (!shift) return rest + row[to];
    const letter = /[a-z0-9]/.test(row[to]);
    return letter ? `${rest}Shift+${row[to]}` : rest + SHIFTED[k][to];
  }
  return keys;
}

/** The changes that make the keys in force their own mirror; twice over, everything is as it was. */
export function mirroredKeys(changed: ChangedKeys): ChangedKeys {
  const out: Record<string, string> = {};
  for (const id of new Set([...Object.keys(KEYMAP), ...Object.keys(changed)])) {
    const key = keyOf(id, changed);
    const to = key ? opposite(key) : '';
    if (to !== (KEYMAP[id] ?? '')) out[id] = to;
  }
  return out;
}
