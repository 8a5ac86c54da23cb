/** Reads a typed number with its unit, and checks it against its range. */
import { formatNumber, parseQuantity, type Quantity } from '@urnsmith/core/document/expression';

export interface Range {
  label: string;
  /** Its unit. */
  measure?: string;
  minimum?: number;
  maximum?: number;
  integer?: boolean;
}

const QUANTITIES: Record<string, Quantity> = { mm: 'length', '°': 'angle' };

/** @returns a sentence when it cannot be */
export function readQuantity(text: string, range: Range): { value: number } | { error: string } {
  const parsed = parseQuantity(text, QUANTITIES[range.measure ?? ''] ?? 'number');
  if ('error' in parsed) return parsed;
  const error = outOfRange(parsed.value, range);
  return error ? { error } : parsed;
}

function outOfRange(v: number, r: Range): string | null {
  const { label, measure, minimum = -Infinity, maximum = Infinity, integer } = r;
  const u = measure ? ` ${measure}` : '';
  if (integer && !Number.isInteger(v)) return `${label} must be a whole number.`;
  if (v < minimum) return `${label} must be at least ${formatNumber(minimum)}${u}.`;
  if (v > maximum) return `${label} must be at most ${formatNumber(maximum)}${u}.`;
  return null;
}
