/** A refusal a person can act on: what, where, what would fix it. Nothing was changed. */
export interface Elements {
  domain: 'vertex' | 'edge' | 'face';
  indices: number[];
}

export class OperationError extends Error {
  constructor(
    /** Stable code for programs, e.g. `open-operand`. */
    readonly code: string,
    /** One sentence for a person. */
    message: string,
    /** The mesh elements concerned, in the mesh of `piece`. */
    readonly elements?: Elements,
    /** A way to fix it. */
    readonly fix?: string,
    /** Id of the piece the elements belong to, when it is not the piece at work. */
    readonly piece?: string,
    /** Line segments to light up, 6 numbers each, in the frame of `piece`. */
    readonly lines?: Float64Array,
  ) {
    super(message);
    this.name = 'OperationError';
  }
}

/** Something a person should look at; the result stands. */
export interface Warning {
  /** Stable code for programs, e.g. `stopped`. */
  code: string;
  /** One sentence for a person. */
  message: string;
  /** The mesh elements concerned. */
  elements?: Elements;
  /** Line segments to light up, 6 numbers each, in the frame of the piece. */
  lines?: Float64Array;
}

export const warn = (
  code: string,
  message: string,
  domain?: Elements['domain'],
  indices: Iterable<number> = [],
): Warning => ({ code, message, ...(domain && { elements: { domain, indices: [...indices] } }) });

/** The same refusal as plain data, for crossing a thread or the network. */
export interface Fault {
  code: string;
  message: string;
  elements?: Elements;
  fix?: string;
  piece?: string;
  lines?: Float64Array;
}

export function faultOf(e: unknown): Fault {
  if (e instanceof OperationError)
    return {
      code: e.code,
      message: e.message,
      elements: e.elements,
      fix: e.fix,
      piece: e.piece,
      lines: e.lines,
    };
  return { code: 'internal', message: e instanceof Error ? e.message : String(e) };
}
