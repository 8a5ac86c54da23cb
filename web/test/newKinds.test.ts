/**
 * A new step, operation and primitive are one file and one line in their index each: they are added in a scratch copy
 * of the sources, and asked for everywhere a person meets them.
 */
import { execFileSync } from 'node:child_process';
import {
  cpSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { choice, length, params } from '@urnsmith/core/ops/fields';
import { defineOperation, runOperation } from '@urnsmith/core/ops/operation';
import { onBox } from '@urnsmith/core/ops/tool';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { selectionOf } from '@urnsmith/core/select/selection';

const root = join(import.meta.dirname, '../..');
const tmp = join(root, '.tmp');
let scratch = '';

const STEP = `
import { Type } from 'typebox';
import { reference } from '../../document/references';
import { transformMesh } from '../../mesh/transform';
import { joinMeshes } from '../../ops/join';
import { defineStep } from '../define';

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
import { length } from '../fields';
import { definePrimitive } from '../define';
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

/** Asks the scratch copy, from within it. */
const QUESTIONS = `
import { documents } from './scripts/writeDocs';
import { Evaluator } from './core/src/steps/evaluate';
import { recipeFaults } from './core/src/document/validate';
import { OPERATIONS } from './core/src/ops/index';
import { PRIMITIVES, firstPrimitive } from './core/src/primitives/index';
import { STEPS } from './core/src/steps/steps';
import { COMMANDS, commandById } from './web/src/commands/commands';
import { stepMoves } from './web/src/commands/stepCommands';
import { found } from './web/src/commands/find';

const pieces = [
  {
    id: 'a',
    base: { primitive: 'bar', reach: 60 },
    actions: [{ op: 'sink', select: { rule: 'all', of: 'points' }, depth: 3 }],
    steps: [{ kind: 'beside', other: 'hole', gap: 7 }],
  },
  { id: 'hole', base: { primitive: 'bar', reach: 80 } },
];
const lost = [{ ...pieces[0], steps: [{ kind: 'beside', other: 'nobody', gap: -1 }] }];
const none = () => { throw new Error('none'); };
const e = new Evaluator({ blob: none, file: none });
e.setPieces(pieces as never);
const built = e.build('a');
const docs = await documents();
console.log(JSON.stringify({
  faults: recipeFaults({ pieces }),
  refused: recipeFaults({ pieces: lost }).map((f) => f.path),
  faces: built.mesh.faceStart.length - 1,
  lowest: Math.min(...Array.from(built.mesh.positions).filter((_, i) => i % 3 === 1)),
  bead: built.steps.map((s) => s.key),
  field: STEPS['beside' as never].fields.map((f) => f.key),
  handles: [STEPS['beside' as never].handles({ gap: 4 }).length, PRIMITIVES['bar' as never].handles(firstPrimitive('bar' as never)).length],
  search: [found(COMMANDS, 'companion')[0]?.id, found(COMMANDS, 'ingot')[0]?.id],
  commands: [commandById('add-step-beside').title, commandById('add-bar').title],
  operation: OPERATIONS.sink.title,
  tool: [commandById('edit-sink').card, found(COMMANDS, 'plunge')[0]?.id],
  ring: ['add', 'piece', 'point'].map((page) => COMMANDS.filter((c) => c.ring?.[page as never] === 9).map((c) => c.id)),
  next: [
    COMMANDS.find((c) => c.next?.point === 9)?.id,
    stepMoves({ steps: [], others: [], drift: {} } as never)[0]?.text ?? null,
  ],
  schema: ['beside', 'sink', 'bar'].map((k) => docs['recipe.schema.json'].includes('"const": "' + k + '"')),
  docs: [docs['kinds.md'].includes('### \`beside\`'), docs['kinds.md'].includes('### \`bar\`'), docs['operations.md'].includes('## \`sink\`')],
}));
`;

beforeAll(() => {
  mkdirSync(tmp, { recursive: true });
  scratch = mkdtempSync(join(tmp, 'kinds-'));
  for (const d of ['core/src', 'web/src', 'scripts', 'tsconfig.json', 'package.json', 'core/package.json'])
    cpSync(join(root, d), join(scratch, d), { recursive: true });
  // The packages as they are, but for core: that is the copy.
  mkdirSync(join(scratch, 'node_modules/@urnsmith'), { recursive: true });
  for (const name of readdirSync(join(root, 'node_modules')))
    if (name !== '@urnsmith')
      symlinkSync(join(root, 'node_modules', name), join(scratch, 'node_modules', name));
  symlinkSync(join(scratch, 'core'), join(scratch, 'node_modules/@urnsmith/core'));
  symlinkSync(join(root, 'core/node_modules'), join(scratch, 'core/node_modules'));
  const add = (folder: string, name: string, text: string): void =>
    writeFileSync(join(scratch, 'core/src', folder, `${name}.ts`), text);
  const line = (index: string, list: RegExp, name: string): void => {
    const path = join(scratch, 'core/src', index);
    const text = readFileSync(path, 'utf8');
    const changed = text.replace(list, (start) => `${start}${name}, `);
    if (changed === text) throw new Error(`${index} has no list to add to`);
    writeFileSync(path, `import { ${name} } from './${name}';\n${changed}`);
  };
  add('steps/kinds', 'beside', STEP);
  line('steps/kinds/index.ts', /STEP_LIST = \[/, 'beside');
  add('ops', 'sink', OPERATION);
  line('ops/index.ts', /const ALL = \[/, 'sink');
  add('primitives/kinds', 'bar', PRIMITIVE);
  line('primitives/kinds/index.ts', /KINDS = \[/, 'bar');
  writeFileSync(join(scratch, 'ask.ts'), QUESTIONS);
});
afterAll(() => rmSync(scratch, { recursive: true, force: true }));

describe('a new kind', () => {
  it('is known to schema, checks, evaluator, Card, handles, commands, search and docs by its one file', () => {
    const out = execFileSync(process.execPath, ['--import', 'tsx', 'ask.ts'], {
      cwd: scratch,
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    expect(JSON.parse(out.trim().split('\n').at(-1)!)).toEqual({
      faults: [],
      refused: expect.arrayContaining(['pieces/0/steps/0/gap']),
      faces: 12,
      lowest: -8,
      bead: ['7 mm'],
      field: ['gap'],
      handles: [1, 1],
      search: ['add-step-beside', 'add-bar'],
      commands: ['Zither beside, live', 'Add bar'],
      operation: 'Sink',
      tool: [['point'], 'edit-sink'],
      ring: [['add-bar'], ['add-step-beside'], ['edit-sink']],
      next: ['edit-sink', 'Put one beside'],
      schema: [true, true, true],
      docs: [true, true, true],
    });
  });

  it('keeps the types of its parameters, and is given them complete', () => {
    let seen: unknown;
    const typed = defineOperation({
      kind: 'typed',
      title: 'Typed',
      on: ['face'],
      params: params({ depth: length('Depth', 1), by: choice('By', ['one', 'two'], 'one') }),
      example: onBox(),
      says: () => '',
      run(mesh, selection, p) {
        const depth: number = p.depth;
        const by: 'one' | 'two' = p.by;
        // @ts-expect-error it may be two
        const one: 'one' = p.by;
        // @ts-expect-error there is no such parameter
        const none: unknown = p.width;
        seen = [depth, by, one, none];
        return { mesh, selection, counts: {} };
      },
    });
    const cube = buildPrimitive({ primitive: 'box', width: 1, height: 1, depth: 1 });
    runOperation(typed, cube, selectionOf('face', [0]), { depth: 4 });
    expect(seen).toEqual([4, 'one', 'one', undefined]);
  });
});
