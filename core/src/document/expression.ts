/**
 * Numbers as people type them: arithmetic with + − * / ( ), and units. Lengths come out in millimetres, angles
 * in degrees, plain numbers as they are. `1in+2mm` is 27.4, `360/22` is 16.3636…
 */

export type Quantity = 'length' | 'angle' | 'number';

const LENGTHS: Record<string, number> = {
  mm: 1,
  cm: 10,
  m: 1000,
  in: 25.4,
  '"': 25.4,
  ft: 304.8,
  "'": 304.8,
};
const ANGLES: Record<string, number> = { '°': 1, deg: 1, rad: 180 / Math.PI };

export type Parsed = { value: number } | { error: string };

export function parseQuantity(text: string, quantity: Quantity): Parsed {
  try {
    const p = new Parser(text, quantity);
    const value = p.sum();
    p.end();
    if (!Number.isFinite(value)) return { error: 'That divides by zero.' };
    return { value };
  } catch (e) {
    return { error: (e as Error).message };
  }
}

class Parser {
  private at = 0;
  private readonly text: string;

  constructor(
    text: string,
    private readonly quantity: Quantity,
  ) {
    this.text = text.replace(/[−–]/g, '-').replace(/×/g, '*').replace(/÷/g, '/').replace(/,/g, '.');
    if (!this.text.trim()) throw new Error('Type a number.');
  }

  sum(): number {
    let v = this.product();
    for (;;) {
      if (this.take('+')) v += this.product();
      else if (this.take('-')) v -= this.product();
      else return v;
    }
  }

  end(): void {
    this.space();
    if (this.at < this.text.length)
      throw new Error(`“${this.text.slice(this.at).trim()}” is not understood.`);
  }

  private product(): number {
    let v = this.factor();
    for (;;) {
      if (this.take('*')) v *= this.factor();
      else if (this.take('/')) v /= this.factor();
      else return v;
    }
  }

  private factor(): number {
    if (this.take('-')) return -this.factor();
    if (this.take('+')) return this.factor();
    if (this.take('(')) {
      const v = this.sum();
      if (!this.take(')')) throw new Error('A closing bracket is missing.');
      return v * this.unit();
    }
    this.space();
    const m = /^(\d+\.?\d*|\.\d+)(e[+-]?\d+)?/i.exec(this.text.slice(this.at));
    if (!m) {
      const rest = this.text.slice(this.at).trim();
      throw new Error(rest ? `“${rest}” is not a number.` : 'The number is incomplete.');
    }
    this.at += m[0].length;
    return Number(m[0]) * this.unit();
  }

  private unit(): number {
    this.space();
    const m = /^(mm|cm|m|in|ft|deg|rad|°|"|')/.exec(this.text.slice(this.at));
    if (!m) return 1;
    const table = this.quantity === 'length' ? LENGTHS : this.quantity === 'angle' ? ANGLES : {};
    if (!(m[0] in table)) throw new Error(`The unit “${m[0]}” does not fit here.`);
    this.at += m[0].length;
    return table[m[0]];
  }

  private take(sign: string): boolean {
    this.space();
    if (this.text[this.at] !== sign) return false;
    this.at++;
    return true;
  }

  private space(): void {
    while (/\s/.test(this.text[this.at] ?? '')) this.at++;
  }
}

/** A number for a field: at most four decimals, no trailing zeros. */
export const formatNumber = (x: number): string => String(Number(x.toFixed(4)) + 0);
