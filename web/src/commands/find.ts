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
 */
export function rank(command: Pick<Command, 'title' | 'words'>, typed: string): number {
  const asked = words(typed);
  if (!asked.length) return 1;
  const name = words(command.title);
  const other = words(command.words ?? '');
  let sum = 0;
  let named = false;
  for (const [i, w] of asked.entries()) {
    const at = name.findIndex((n) => n.startsWith(w));
    if (at >= 0) {
      named = true;
      sum += (at === i ? 1 : 0.8) + (name[at] === w ? 0.1 : 0);
    } else {
      const word = other.findIndex((o) => o.startsWith(w));
      if (word < 0) return 0;
      // The words that fit best come first in their list.
      sum += (other[word] === w ? 0.6 : 0.5) - 0.02 * word;
    }
  }
  return sum / asked.length / (named ? 1 + 0.01 * name.length : 1);
}

/**
 * Commands that answer, best first; in their own order where they answer alike.
 * @param near those that can act as things are come before others that answer about as well
 */
export function found<C extends Pick<Command, 'title' | 'words'>>(
  commands: ReadonlyArray<C>,
  typed: string,
  near: (c: C) => boolean = () => false,
): C[] {
  return commands
    .map((c, i) => ({ c, i, score: rank(c, typed) }))
    .filter((x) => x.score > 0)
    .map((x) => (near(x.c) ? { ...x, score: x.score + 0.1 } : x))
    .sort((a, b) => b.score - a.score || a.i - b.i)
    .map((x) => x.c);
}
