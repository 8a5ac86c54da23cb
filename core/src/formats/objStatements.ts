/** Splits an OBJ file's bytes into statements of words, in one pass and without copies: time and memory grow with the file. */

const [TAB, NEWLINE, RETURN, SPACE, HASH, BACKSLASH] = [9, 10, 13, 32, 35, 92];

/** One statement: a line, or several joined by a backslash at their ends. Words are given by where they lie. */
export class ObjStatements {
  /** The line the statement begins in, from 1. */
  line = 0;
  /** How many words it has; more than `most` are counted but not kept. */
  words = 0;
  private readonly starts: Int32Array;
  private readonly ends: Int32Array;
  private at = 0;
  private lines = 1;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly most: number,
  ) {
    this.starts = new Int32Array(most);
    this.ends = new Int32Array(most);
  }

  /** Lines passed so far. */
  get passed(): number {
    return this.lines;
  }

  /** Goes to the next statement that has a word; false at the end. */
  next(): boolean {
    const { bytes, most } = this;
    const end = bytes.length;
    while (this.at < end) {
      this.line = this.lines;
      this.words = 0;
      let inComment = false;
      let start = -1;
      let at = this.at;
      for (; at < end; at++) {
        const b = bytes[at];
        const continued = b === BACKSLASH && this.endsLine(at + 1);
        const blank = b === SPACE || b === TAB || b === RETURN || b === NEWLINE || b === HASH || continued;
        if (!blank) {
          if (start < 0 && !inComment) start = at;
          continue;
        }
        if (start >= 0) {
          this.keep(start, at, most);
          start = -1;
        }
        if (b === HASH) inComment = true;
        else if (continued) {
          at += bytes[at + 1] === RETURN ? 2 : 1;
          this.lines++;
        } else if (b === NEWLINE) break;
      }
      if (start >= 0) this.keep(start, at, most);
      if (at < end) this.lines++;
      this.at = at + 1;
      if (this.words) return true;
    }
    return false;
  }

  /** The word as text; long ones shortened, for messages. */
  text(word: number, shown = 40): string {
    const [a, b] = [this.starts[word], this.ends[word]];
    const text = new TextDecoder().decode(this.bytes.subarray(a, Math.min(b, a + shown)));
    return b - a > shown ? `${text}…` : text;
  }

  /** All words after the first, as they stand. */
  rest(shown = 1000): string {
    const parts: string[] = [];
    for (let k = 1; k < Math.min(this.words, this.most); k++) parts.push(this.text(k, shown));
    return parts.join(' ').slice(0, shown);
  }

  /** Whether the first word is this one. */
  is(keyword: string): boolean {
    const [a, b] = [this.starts[0], this.ends[0]];
    if (b - a !== keyword.length) return false;
    for (let i = a; i < b; i++) if (this.bytes[i] !== keyword.charCodeAt(i - a)) return false;
    return true;
  }

  /** The word as a number; NaN when it is none. */
  number(word: number): number {
    return numberIn(this.bytes, this.starts[word], this.ends[word]);
  }

  /**
   * Part `k` of a word like 3/4/5 as an integer: 0 where it is empty or missing, NaN where it is none.
   */
  part(word: number, k: number): number {
    const { bytes } = this;
    const end = this.ends[word];
    let a = this.starts[word];
    for (; k > 0; k--) {
      while (a < end && bytes[a] !== 47) a++;
      if (a === end) return 0;
      a++;
    }
    let b = a;
    while (b < end && bytes[b] !== 47) b++;
    if (a === b) return 0;
    const n = numberIn(bytes, a, b);
    return Number.isInteger(n) && n !== 0 ? n : NaN;
  }

  private keep(start: number, end: number, most: number): void {
    if (this.words < most) {
      this.starts[this.words] = start;
      this.ends[this.words] = end;
    }
    this.words++;
  }

  private endsLine(at: number): boolean {
    const { bytes } = this;
    return bytes[at] === NEWLINE || (bytes[at] === RETURN && bytes[at + 1] === NEWLINE);
  }
}

/** One-letter texts, so that spelling out a number makes no new ones. */
const CHARACTERS = Array.from({ length: 256 }, (_, b) => String.fromCharCode(b));
const POWERS = Float64Array.from({ length: 23 }, (_, k) => Number(`1e${k}`));

/**
 * A decimal number in bytes, correctly rounded; NaN when it is none. Up to 15 digits with a power of ten up to 22 are
 * exact in doubles (Clinger 1990, "How to read floating point numbers accurately"); others go the slow way.
 */
function numberIn(bytes: Uint8Array, start: number, end: number): number {
  let at = start;
  const negative = bytes[at] === 45;
  if (negative || bytes[at] === 43) at++;
  let mantissa = 0;
  let digits = 0;
  let scale = 0;
  let any = false;
  let point = false;
  for (; at < end; at++) {
    const d = bytes[at] - 48;
    if (d >= 0 && d <= 9) {
      any = true;
      if (mantissa !== 0 || d !== 0) digits++;
      mantissa = 10 * mantissa + d;
      if (point) scale--;
    } else if (bytes[at] === 46 && !point) point = true;
    else break;
  }
  if (!any) return NaN;
  if (at < end && (bytes[at] === 101 || bytes[at] === 69)) {
    at++;
    const minus = bytes[at] === 45;
    if (minus || bytes[at] === 43) at++;
    if (at >= end) return NaN;
    let exponent = 0;
    for (; at < end; at++) {
      const d = bytes[at] - 48;
      if (d < 0 || d > 9) return NaN;
      exponent = Math.min(10 * exponent + d, 100_000);
    }
    scale += minus ? -exponent : exponent;
  }
  if (at < end) return NaN;
  if (digits <= 15 && scale >= -22 && scale <= 22) {
    const value = scale < 0 ? mantissa / POWERS[-scale] : mantissa * POWERS[scale];
    return negative ? -value : value;
  }
  // More digits than any number needs are not worth a long text.
  if (end - start > 1000) return NaN;
  let text = '';
  for (let i = start; i < end; i++) text += CHARACTERS[bytes[i]];
  return Number(text);
}
