/**
 * One more of everything that has a list is one file and one line: each is added in a scratch copy of the sources, and
 * asked for everywhere a person meets it.
 */
import { execFileSync } from 'node:child_process';
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { choice, length, params } from '@urnsmith/core/ops/fields';
import { defineOperation, runOperation } from '@urnsmith/core/ops/operation';
import { onBox } from '@urnsmith/core/ops/tool';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { selectionOf } from '@urnsmith/core/select/selection';
import { scratchCopy } from './scratch';

let scratch = '';

/** Asks the scratch copy, from within it. */
const QUESTIONS = `
import { documents } from './scripts/writeDocs';
import { Evaluator } from './core/src/build/evaluate';
import { recipeFaults } from './core/src/document/validate';
import { OPERATIONS } from './core/src/ops/index';
import { PRIMITIVES, firstPrimitive } from './core/src/primitives/index';
import { STEPS } from './core/src/steps/index';
import { COMMANDS, commandById } from './web/src/commands/commands';
import { stepMoves } from './web/src/commands/stepCommands';
import { found } from './web/src/commands/find';
import { FORMATS, READ, WRITTEN, formatOf, readMeshes, writeParts } from './core/src/formats/index';
import { SETTINGS } from './core/src/settings/index';
import { LOOK_NAMES } from './web/src/viewport/looks/index';

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
const sent = await writeParts('pts' as never, [{ name: 'a', mesh: readMeshes('pts' as never, new TextEncoder().encode('0 0 0 10 0 0 0 10 0'))[0].mesh, matrix: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1] }], { unit: 'cm', up: 'y' });
console.log(JSON.stringify({
  format: [READ.includes('pts' as never), WRITTEN.includes('pts' as never), formatOf('a/b.PTS'), new TextDecoder().decode(sent)],
  setting: SETTINGS['motto' as never]['first'],
  look: [LOOK_NAMES.includes('chalk' as never), found(COMMANDS, 'blackboard')[0]?.id],
  mode: found(COMMANDS, 'abacus')[0]?.id,
  dialog: found(COMMANDS, 'carton')[0]?.id,
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
  scratch = scratchCopy();
  writeFileSync(join(scratch, 'ask.ts'), QUESTIONS);
});
afterAll(() => rmSync(scratch, { recursive: true, force: true }));

describe('a new kind', () => {
  it('is known to schemas, checks, evaluator, Card, handles, commands, search and docs by its one file', () => {
    const out = execFileSync(process.execPath, ['--import', 'tsx', 'ask.ts'], {
      cwd: scratch,
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    expect(JSON.parse(out.trim().split('\n').at(-1)!)).toEqual({
      format: [true, true, 'pts', '0 0 0 1 0 0 0 1 0'],
      setting: 'Measure twice.',
      look: [true, 'look-chalk'],
      mode: 'tally',
      dialog: 'scratch',
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
