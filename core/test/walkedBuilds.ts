/** Random builds of several cutters that are changed and changed back: every state is made of the same bytes. */
import assert from 'node:assert/strict';
import fc from 'fast-check';
import { Evaluator } from '../src/build/evaluate';
import type { Piece } from '../src/document/schema';
import { encodeMesh } from '../src/formats/meshBlob';
import { OperationError } from '../src/mesh/errors';
import type { Primitive } from '../src/primitives';
import type { Step } from '../src/steps';

const whole = (min: number, max: number): fc.Arbitrary<number> => fc.integer({ min, max });
/** Tenths, so that flush faces come up. */
const tenths = (min: number, max: number): fc.Arbitrary<number> =>
  whole(10 * min, 10 * max).map((x) => x / 10);

const host: fc.Arbitrary<Primitive> = fc.oneof(
  fc.record({ primitive: fc.constant('box' as const), width: tenths(40, 60), height: tenths(30, 50), depth: tenths(40, 60) }),
  fc.record({ primitive: fc.constant('cylinder' as const), radius: tenths(20, 28), height: tenths(40, 60), sides: fc.constantFrom(12, 24, 48) }),
  fc.record({ primitive: fc.constant('torus' as const), radius: fc.constant(24), tubeRadius: tenths(7, 10), sides: fc.constant(24), tubeSides: fc.constant(12) }),
); // prettier-ignore
const cutter: fc.Arbitrary<Primitive> = fc.oneof(
  fc.record({ primitive: fc.constant('cylinder' as const), radius: tenths(3, 8), height: fc.constant(90), sides: fc.constantFrom(12, 16, 24) }),
  fc.record({ primitive: fc.constant('box' as const), width: tenths(5, 14), height: fc.constant(90), depth: tenths(5, 14) }),
  fc.record({ primitive: fc.constant('sphere' as const), radius: tenths(5, 12), sides: fc.constant(16), rings: fc.constant(8) }),
); // prettier-ignore
const quarter = fc.constantFrom(0, 90);
const pose = fc.oneof(
  fc.record({ move: fc.tuple(whole(-18, 18), whole(-18, 18), whole(-18, 18)), turn: fc.tuple(quarter, quarter, quarter) }), // prettier-ignore
  fc.record({ move: fc.tuple(tenths(-18, 18), tenths(-18, 18), tenths(-18, 18)), turn: fc.tuple(tenths(-60, 60), tenths(-60, 60), tenths(-60, 60)) }), // prettier-ignore
);
const rounding: Step[] = [
  { kind: 'bevel', scope: { rule: 'rims' }, width: 0.5, segments: 2 },
  { kind: 'bevel', scope: { rule: 'outer' }, width: 0.4, segments: 2 },
  { kind: 'normals', weight: 'built', hardAngle: 30 },
];

const build = (most: number): fc.Arbitrary<Piece[]> =>
  fc
    .record({
      base: host,
      cutters: fc.array(fc.record({ base: cutter, transform: pose }), { minLength: 1, maxLength: most }),
      mode: fc.constantFrom('subtract' as const, 'subtract' as const, 'union' as const),
      rounded: fc.constantFrom(false, false, true),
    })
    .map(({ base, cutters, mode, rounded }) => [
      {
        id: 'h',
        base,
        steps: [
          { kind: 'cut' as const, mode, cutters: cutters.map((_, i) => `c${i}`) },
          ...(rounded ? rounding : []),
        ],
      },
      ...cutters.map((c, i): Piece => ({ id: `c${i}`, role: 'cutter', ...c })),
    ]);

const fresh = (): Evaluator => {
  const none = (): never => {
    throw new Error('no file is used');
  };
  return new Evaluator({ blob: none, file: none });
};

/** The bytes of the host and the names of its faces; the refusal where it cannot be built. */
function bytesOf(e: Evaluator, pieces: Piece[]): string {
  e.setPieces(pieces);
  try {
    const { mesh } = e.build('h');
    const { birth } = mesh.layers.face;
    return Buffer.concat([encodeMesh(mesh), Buffer.from(birth.data.buffer)]).toString('base64');
  } catch (fault) {
    if (fault instanceof OperationError) return fault.message;
    throw fault;
  }
}

/**
 * @param changes made one after another, each to one of the pieces, and then taken back in the other order
 * @param cutters there are at most
 */
export const walkedBuilds = (changes: number, cutters: number): fc.IPropertyWithHooks<[Piece[], unknown[]]> =>
  fc.property(
    build(cutters),
    fc.array(fc.record({ which: fc.nat(), to: pose, base: host }), {
      minLength: changes,
      maxLength: changes,
    }),
    (start, list) => {
      const e = fresh();
      const states = [start];
      for (const { which, to, base } of list) {
        const last = states[states.length - 1];
        const at = which % last.length;
        states.push(last.map((p, i) => (i !== at ? p : i ? { ...p, transform: to } : { ...p, base })));
      }
      const bytes = states.map((s) => bytesOf(e, s));
      for (let i = states.length - 1; i >= 0; i--) {
        assert(bytesOf(e, states[i]) === bytes[i], `state ${i} is made of other bytes when it comes back`);
        assert(bytesOf(fresh(), states[i]) === bytes[i], `state ${i} is made of other bytes from nothing`);
      }
    },
  );
