/**
 * A scratch copy of the sources with a new step, operation and primitive: one file and one line in their index each,
 * and nothing else touched.
 */
import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '../..');
const tmp = join(root, '.tmp');

/** All that the application is made of. */
const COPIED = [
  ...['package.json', 'tsconfig.json', 'scripts', 'demo', 'core/src', 'core/package.json'],
  ...['server/src', 'server/migrations', 'server/bundle.mjs', 'server/package.json'],
  ...[
    'web/src',
    'web/public',
    'web/index.html',
    'web/vite.config.ts',
    'web/declarationsOnly.ts',
    'web/package.json',
  ],
];

const STEP = `
import { Type } from 'typebox';
import { reference } from '../schema/references';
import { transformMesh } from '../mesh/transform';
import { joinMeshes } from '../ops/join';
import { defineStep } from './define';

export const beside = defineStep({
  kind: 'beside',
  title: 'Beside',
  lane: 'Repeat',
  example: { kind: 'beside', other: 'hole', gap: 5 },
  params: {
    other: reference('pieces', 'operand'),
    gap: Type.Number({ title: 'Gap', unit: 'mm', minimum: 0, maximum: 1000, default: 5 }),
  },
  fields: [{ key: 'gap' }],
  adds: [
    {
      title: 'Zither beside, live',
      words: 'companion',
      step: ({ others }) => ({ kind: 'beside' as const, other: others[0] ?? 'hole', gap: 5 }),
      ring: { piece: 9 },
      offers: () => ({ text: 'Put one beside' }),
    },
  ],
  operands: (step) => [step.other],
  handles: (step) => [{ key: 'gap', label: 'gap', at: [step.gap, 0, 0], along: [1, 0, 0], rate: 1 }],
  run(mesh, step, { operands: [o] }) {
    const by: [number, number, number] = [step.gap, 0, 0];
    return {
      mesh: joinMeshes([mesh, transformMesh(o.mesh, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, ...by, 1])]),
      key: step.gap + ' mm',
    };
  },
});
`;
const OPERATION = `
import { makeMesh } from '../mesh/PolyMesh';
import { length, params, choice } from './fields';
import { defineOperation } from './operation';
import { onBox } from './tool';

export const sink = defineOperation({
  kind: 'sink',
  title: 'Sink',
  on: ['vertex'],
  params: params({ depth: length('Depth', 2, 0, 100), along: choice('Along', ['down', 'up'], 'down') }),
  example: onBox({ op: 'sink', select: { rule: 'all', of: 'points' }, depth: 3 }),
  tools: [{ words: 'plunge', ring: { point: 9 }, next: { point: 9 }, start: (hand) => ({ depth: hand.share(0.05) }) }],
  says: ({ points }) => 'Sunk ' + points + '.',
  run(mesh, selection, p) {
    const positions = mesh.positions.slice();
    const sign: 1 | -1 = p.along === 'up' ? 1 : -1;
    for (const v of selection.indices) positions[3 * v + 1] += sign * p.depth;
    return { mesh: makeMesh(positions, mesh.faceStart, mesh.corners, mesh.layers), selection, counts: { points: selection.indices.length } };
  },
});
`;
const PRIMITIVE = `
import { length } from './fields';
import { definePrimitive } from './define';
import { boxMesh } from './box';

export const bar = definePrimitive({
  kind: 'bar',
  title: 'Bar',
  words: 'ingot',
  ring: { add: 9 },
  params: { reach: length('Reach', 80) },
  build: (p) => boxMesh(p.reach, 10, 10, [1, 1, 1]),
  handles: (p) => [{ key: 'reach', label: 'reach', at: [p.reach / 2, 0, 0], along: [1, 0, 0], rate: 2 }],
  key: (p, n) => n(p.reach),
});
`;

/** @returns its folder; to be removed by whoever asked for it */
export function scratchCopy(): string {
  mkdirSync(tmp, { recursive: true });
  const scratch = mkdtempSync(join(tmp, 'kinds-'));
  for (const d of COPIED) cpSync(join(root, d), join(scratch, d), { recursive: true });
  // The packages as they are, but for core: that is the copy.
  mkdirSync(join(scratch, 'node_modules/@urnsmith'), { recursive: true });
  for (const name of readdirSync(join(root, 'node_modules')))
    if (name !== '@urnsmith')
      symlinkSync(join(root, 'node_modules', name), join(scratch, 'node_modules', name));
  symlinkSync(join(scratch, 'core'), join(scratch, 'node_modules/@urnsmith/core'));
  for (const w of ['core', 'server', 'web']) {
    const own = join(root, w, 'node_modules');
    if (existsSync(own)) symlinkSync(own, join(scratch, w, 'node_modules'));
  }
  for (const [folder, name, text] of [
    ['steps', 'beside', STEP],
    ['ops', 'sink', OPERATION],
    ['primitives', 'bar', PRIMITIVE],
  ]) {
    writeFileSync(join(scratch, 'core/src', folder, `${name}.ts`), text);
    const index = join(scratch, 'core/src', folder, 'index.ts');
    const before = readFileSync(index, 'utf8');
    const after = before.replace('const ALL = [', (start) => `${start}${name}, `);
    if (after === before) throw new Error(`${index} has no list to add to`);
    writeFileSync(index, `import { ${name} } from './${name}';\n${after}`);
  }
  return scratch;
}
