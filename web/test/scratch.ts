/**
 * A scratch copy of the sources with one more of everything that has a list: step, operation, primitive, file format,
 * setting, look, mode and dialog. Each is one file and one line in its list, and nothing else is touched.
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

const FORMAT = `
import { makeMesh } from '../mesh/PolyMesh';
import { defineFormat } from './define';
import { placedForExport } from './part';

export const points = defineFormat({
  extension: 'pts',
  about: 'Corners of triangles, one to a line.',
  media: 'model/points',
  keeps: { polygons: false, normals: false, uvs: false, materials: false },
  unit: 'cm',
  most: 1000,
  write: (parts, o) =>
    new TextEncoder().encode(
      parts.map((p) => Array.from(placedForExport(p, o).positions).join(' ')).join('\\n'),
    ),
  read(bytes) {
    const numbers = new TextDecoder().decode(bytes).trim().split(/\\s+/).map(Number);
    const corners = Uint32Array.from({ length: numbers.length / 3 }, (_, i) => i);
    const starts = Uint32Array.from({ length: corners.length / 3 + 1 }, (_, i) => 3 * i);
    return [{ name: 'Points', mesh: makeMesh(Float64Array.from(numbers), starts, corners) }];
  },
});
`;
const SETTING = `
import { Type } from 'typebox';
import { defineSetting } from './define';

export const motto = defineSetting({
  name: 'motto',
  schema: Type.String({ maxLength: 20 }),
  first: 'Measure twice.',
  most: 100,
  faults: (text) => (text.includes('!') ? [{ path: 'motto', message: 'Calmly, please.' }] : []),
});
`;
const LOOK = `
import { MeshBasicMaterial } from 'three';
import { defineLook } from './define';

export const chalk = defineLook({
  name: 'chalk',
  words: 'blackboard',
  legend: { of: 'dust', unit: 'g', stops: [[1, '#ff00ff']] },
  material: () => new MeshBasicMaterial({ color: '#ff00ff' }),
});
`;
const MODE = `
import { createElement } from 'react';
import { handActions } from '../state/handSlice';
import { modeIn } from '../state/mode';
import type { OpenScene } from '../state/OpenScene';
import { defineMode } from './define';

declare module '../state/mode' {
  interface ModeStates {
    count: { clicks: number };
  }
}
const put = (scene: OpenScene, clicks: number | null): void =>
  void scene.store.dispatch(handActions.modeTaken(clicks === null ? null : { is: 'count', clicks }));

export const count = defineMode<'count'>({
  is: 'count',
  title: 'Tally',
  commands: [{ id: 'tally', title: 'Tally clicks', words: 'abacus', group: 'Tool', run: (scene) => put(scene, 0) }],
  help: [['click', 'counts on']],
  keys: { Escape: (scene) => put(scene, null) },
  Card: ({ mode }) => createElement('p', { className: 'tally' }, mode.clicks + ' so far'),
  press(scene) {
    put(scene, modeIn(scene.store.getState(), 'count')!.clicks + 1);
    return 'click';
  },
});
`;
const DIALOG = `
import { Box } from '../../ui/Box';

export function ScratchBox({ onClose }: { onClose: () => void }) {
  return <Box title="Scratch" onClose={onClose}>Nothing but a box.</Box>;
}
`;

/** Folder under the copy, file, text, and its line; the list is \`const ALL = [\` of the folder's index. */
const NEW: ReadonlyArray<{ folder: string; file: string; text: string; list?: string; line?: string }> = [
  { folder: 'core/src/steps', file: 'beside.ts', text: STEP },
  { folder: 'core/src/ops', file: 'sink.ts', text: OPERATION },
  { folder: 'core/src/primitives', file: 'bar.ts', text: PRIMITIVE },
  { folder: 'core/src/formats', file: 'points.ts', text: FORMAT },
  { folder: 'core/src/settings', file: 'motto.ts', text: SETTING },
  { folder: 'web/src/viewport/looks', file: 'chalk.ts', text: LOOK },
  { folder: 'web/src/modes', file: 'count.ts', text: MODE },
  {
    folder: 'web/src/views/dialogs',
    file: 'ScratchBox.tsx',
    text: DIALOG,
    list: 'web/src/commands/dialogs.ts',
    line: "dialog('scratch', async () => (await import('../views/dialogs/ScratchBox')).ScratchBox, { title: 'Scratch a box', words: 'carton', group: 'Tool' })",
  },
];

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
  for (const { folder, file, text, list = `${folder}/index.ts`, line } of NEW) {
    writeFileSync(join(scratch, folder, file), text);
    const name = file.replace(/\.tsx?$/, '');
    const path = join(scratch, list);
    const before = readFileSync(path, 'utf8');
    const after = before.replace('const ALL = [', (start) => `${start}${line ?? name}, `);
    if (after === before) throw new Error(`${list} has no list to add to`);
    writeFileSync(path, line ? after : `import { ${name} } from './${name}';\n${after}`);
  }
  return scratch;
}
