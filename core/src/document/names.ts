/** Names that stay short and tell things apart. */
/** Characters of a name at most. */
export const NAME_LIMIT = 120;

/** The text without what is too much, ending in … where something was left out. Never cuts a character in two. */
export function shortened(text: string, limit: number): string {
  if (text.length <= limit) return text;
  let end = limit - 1;
  // The first half of a pair does not stand alone.
  if (/[\uD800-\uDBFF]/.test(text[end - 1])) end--;
  return `${text.slice(0, end).trimEnd()}…`;
}

/** A name without the number (or the older “copy”) that made it unique. */
export const stemOf = (name: string): string => name.replace(/(?: copy)*(?: \d+)?$/, '') || name;

/**
 * A name nothing has yet: the one wanted, or its stem with the next free number. “Bolt 2” is followed by “Bolt 3”, not
 * by “Bolt 2 copy”.
 */
export function freeName(wanted: string, taken: ReadonlySet<string | undefined>): string {
  const name = shortened(wanted.trim(), NAME_LIMIT);
  if (!taken.has(name)) return name;
  const stem = stemOf(name);
  for (let k = 2; ; k++) {
    const numbered = `${shortened(stem, NAME_LIMIT - String(k).length - 1)} ${k}`;
    if (!taken.has(numbered)) return numbered;
  }
}
