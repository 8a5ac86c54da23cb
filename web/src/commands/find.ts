/** Finding commands by what a person types: starts of words first, other words people try after, noise never. */
import type { Command } from '../state/command';

const words = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/**
 * How well a command answers what was typed: 0 for not at all. Every word typed must begin a word of the name or of
 * the other words; the name counts more than those, its first word most, and short names before long ones.
 * @param begins whether a word begins as it was typed
 */
export function rank(
  command: Pick<Command, 'title' | 'words'>,
  typed: string,
  begins: (word: string, typed: string) => boolean = (word, w) => word.startsWith(w),
): number {
  const asked = words(typed);
  if (!asked.length) return 1;
  const name = words(command.title);
  const other = words(command.words ?? '');
  let sum = 0;
  let named = false;
  for (const [i, w] of asked.entries()) {
    const at = name.findIndex((n) => begins(n, w));
    if (at >= 0) {
      named = true;
      sum += (at === i ? 1 : 0.8) + (name[at] === w ? 0.1 : 0);
    } else {
      const word = other.findIndex((o) => begins(o, w));
      if (word < 0) return 0;
      // The words that fit best come first in their list.
      sum += (other[word] === w ? 0.6 : 0.5) - 0.02 * word;
    }
  }
  return sum / asked.length / (named ? 1 + 0.01 * name.length : 1);
}

/** Shorter words are not taken for others. */
const LONG = 4;

/**
 * A word begins almost as it was typed: with the same letter, and one letter more, less or other, or two changed over
 * (Damerau 1964).
 */
function almostBegins(word: string, typed: string): boolean {
  if (typed.length < LONG || word[0] !== typed[0]) return word.startsWith(typed);
  return [-1, 0, 1].some(
    (by) => word.length >= typed.length + by && isOneOff(word.slice(0, typed.length + by), typed),
  );
}

function isOneOff(a: string, b: string): boolean {
  let i = 0;
  while (i < a.length && a[i] === b[i]) i++;
  const [p, q] = [a.slice(i), b.slice(i)];
  const swapped = p[0] === q[1] && p[1] === q[0] && p.slice(2) === q.slice(2);
  return p === q || p.slice(1) === q || p === q.slice(1) || p.slice(1) === q.slice(1) || swapped;
}

/**
 * Commands that answer, best first; in their own order where they answer alike. Words are taken for misspelt ones only
 * where nothing answers as they were typed.
 * @param near those that can act as things are come before others that answer about as well
 */
export function found<C extends Pick<Command, 'title' | 'words'>>(
  commands: ReadonlyArray<C>,
  typed: string,
  near: (c: C) => boolean = () => false,
): C[] {
  const ranked = (begins?: typeof almostBegins): Array<{ c: C; i: number; score: number }> =>
    commands.map((c, i) => ({ c, i, score: rank(c, typed, begins) })).filter((x) => x.score > 0);
  const exact = ranked();
  return (exact.length ? exact : ranked(almostBegins))
    .map((x) => (near(x.c) ? { ...x, score: x.score + 0.1 } : x))
    .sort((a, b) => b.score - a.score || a.i - b.i)
    .map((x) => x.c);
}
