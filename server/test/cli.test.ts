import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, it, vi } from 'vitest';
import { NodeIO } from '@gltf-transform/core';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import { run } from '../src/cli/main';

const folder = mkdtempSync(join(tmpdir(), 'urnsmith-cli-'));
afterAll(() => rmSync(folder, { recursive: true }));
const file = (name: string): string => join(folder, name);

async function cli(...argv: string[]): Promise<{ code: number; out: string; err: string }> {
  const lines: { out: string[]; err: string[] } = { out: [], err: [] };
  const code = await run(argv, { out: (l) => lines.out.push(l), err: (l) => lines.err.push(l) });
  return { code, out: lines.out.join('\n'), err: lines.err.join('\n') };
}

const recipe = {
  units: 'mm',
  pieces: [
    {
      id: 'plate',
      name: 'Plate',
      base: { primitive: 'box', width: 100, height: 20, depth: 80, segments: [1, 1, 1] },
      transform: { move: [0, 0, 0], turn: [0, 0, 0], size: [1, 1, 1] },
      steps: [
        { kind: 'cut', mode: 'subtract', cutters: ['hole'] },
        { kind: 'bevel', scope: { rule: 'rims' }, width: 2, segments: 3 },
        { kind: 'normals', weight: 'area', hardAngle: 40 },
      ],
    },
    { id: 'hole', role: 'cutter', base: { primitive: 'cylinder', radius: 10, height: 60, sides: 32 } },
  ],
  export: ['plate'],
};
const save = (name: string, value: unknown): string => {
  writeFileSync(file(name), typeof value === 'string' ? value : JSON.stringify(value));
  return file(name);
};

it('builds the recipe into every format, by extension', async () => {
  const path = save('plate.json', recipe);
  for (const ext of ['glb', 'gltf', 'obj', 'stl', 'ply']) {
    const r = await cli('build', path, '--out', file(`plate.${ext}`));
    expect([r.code, r.out, r.err]).toEqual([0, 'Plate: 264 points, 232 faces, 528 triangles', '']);
  }
  const doc = await new NodeIO().read(file('plate.glb'));
  const p = doc.getRoot().listMeshes()[0].listPrimitives()[0];
  expect(p.getAttribute('POSITION')!.getMax([])[0]).toBeCloseTo(0.05, 6);
});

it('checks files and recipes, for people and as JSON', async () => {
  const path = save('plate.json', recipe);
  await cli('build', path, '--out', file('again.obj'));
  for (const f of [path, file('again.obj')]) {
    const r = await cli('check', f, '--json');
    const [report] = JSON.parse(r.out) as Array<Record<string, unknown>>;
    expect([r.code, report]).toMatchObject([
      0,
      { closed: true, faces: 232, euler: 0, shells: 1, findings: [] },
    ]);
    expect(report.volume as number).toBeCloseTo(153625.495, 1);
  }
  expect((await cli('check', path)).out).toMatch(
    /^Plate: closed solid\n.*264 points.*\n.*volume 153625\.\d+ mm³/,
  );
  const torn = save('torn.obj', 'v 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 1\nv 0 0 1\nf 1 2 3\nf 1 2 4\nf 1 2 5\n');
  const bad = await cli('check', torn);
  expect([bad.code, bad.out]).toEqual([1, expect.stringContaining('non-manifold-edge ×1')]);
});

it('tells calls and recipes that are wrong (2) from geometry that is (1)', async () => {
  expect((await cli()).code).toBe(2);
  expect((await cli('polish', 'x')).err).toMatch(/“polish” is no command/);
  expect((await cli('build', save('ok.json', recipe))).err).toBe('build needs --out FILE.');
  expect((await cli('build', file('ok.json'), '--out', file('x.fbx'))).err).toMatch(
    /“\.fbx” is not a format/,
  );
  expect((await cli('build', file('ok.json'), '--out', file('x.obj'), '--unit', 'ell')).code).toBe(2);
  expect((await cli('check', file('missing.obj'))).err).toMatch(/cannot be read/);
  const unknown = save('unknown.json', {
    ...recipe,
    pieces: [{ ...recipe.pieces[0], steps: [{ kind: 'bevel', width: 2, radius: 4 }] }],
  });
  expect(await cli('build', unknown, '--out', file('x.obj'))).toMatchObject({
    code: 2,
    err: 'pieces/0/steps/0/radius: Unknown key “radius”.\nexport/0: There is no piece “plate”.'.split(
      '\n',
    )[0],
  });
  const open = save('open.json', {
    pieces: [
      recipe.pieces[0],
      { id: 'hole', name: 'Sheet', base: { primitive: 'plane', width: 9, depth: 9 } },
    ],
    export: ['plate'],
  });
  expect(await cli('build', open, '--out', file('x.obj'))).toMatchObject({
    code: 1,
    err: expect.stringMatching(/^Plate, step 1: “Sheet” is not a closed solid/),
  });
});

it('takes mesh files as bases, beside the recipe', async () => {
  await cli('build', save('plate.json', recipe), '--out', file('base.obj'));
  const path = save('from-file.json', {
    pieces: [
      { id: 'a', base: { file: 'base.obj' }, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['b'] }] },
      {
        id: 'b',
        role: 'cutter',
        base: { primitive: 'box', width: 10, height: 90, depth: 10 },
        transform: { move: [30, 0, 0] },
      },
    ],
  });
  const r = await cli('build', path, '--out', file('cut.obj'));
  expect(r).toMatchObject({ code: 0, err: '' });
  const [report] = JSON.parse((await cli('check', file('cut.obj'), '--json')).out) as Array<{
    closed: boolean;
    volume: number;
  }>;
  expect(report.closed).toBe(true);
  expect(report.volume).toBeCloseTo(153625.495 - 2000, 0);
  expect(readFileSync(file('cut.obj'), 'utf8')).toMatch(/^# Urnsmith/);
});

it('applies actions to a base, refuses unknown ones by path, and ends with 1 where one cannot act', async () => {
  const withActions = (...actions: unknown[]): string =>
    save('edited.json', {
      pieces: [{ id: 'p', base: { primitive: 'box', width: 10, height: 10, depth: 10 }, actions }],
    });
  const up = { rule: 'facing', direction: [0, 1, 0] };
  const good = withActions(
    { op: 'inset', select: up, thickness: 2 },
    { op: 'extrude', select: { rule: 'last' }, distance: 3 },
    { op: 'bevel', select: { rule: 'sharp', angle: 60 }, width: 0.2, segments: 1 },
  );
  expect((await cli('build', good, '--out', file('edited.obj'))).code).toBe(0);
  const checked = await cli('check', file('edited.obj'), '--json');
  expect(JSON.parse(checked.out)).toMatchObject([{ closed: true, euler: 2 }]);

  const unknown = await cli('build', withActions({ op: 'melt', select: up }), '--out', file('x.obj'));
  expect([unknown.code, unknown.err]).toEqual([2, expect.stringContaining('pieces/0/actions/0/op')]);
  const far = await cli(
    'build',
    withActions({ op: 'inset', select: up, thickness: 'wide' }),
    '--out',
    file('x.obj'),
  );
  expect([far.code, far.err]).toEqual([2, expect.stringContaining('pieces/0/actions/0/thickness')]);
  const rule = await cli(
    'build',
    withActions({ op: 'inset', select: { rule: 'pretty' } }),
    '--out',
    file('x.obj'),
  );
  expect([rule.code, rule.err]).toEqual([2, expect.stringContaining('pieces/0/actions/0/select')]);
  const none = await cli(
    'build',
    withActions({ op: 'fill', select: { rule: 'all', of: 'edges' } }),
    '--out',
    file('x.obj'),
  );
  expect([none.code, none.err]).toEqual([1, expect.stringContaining('no hole to fill')]);
});

it('runs headless what was drawn by hand: points onto another file, knife lines, bevelled points, drawn faces', async () => {
  await cli('build', save('ball.json', { pieces: [{ id: 'b', name: 'Ball', base: { primitive: 'quadSphere', radius: 9, divisions: 8 } }] }), '--out', file('ball.obj')); // prettier-ignore
  const all = { rule: 'all', of: 'points' };
  const round = {
    pieces: [
      {
        id: 'r',
        name: 'Round',
        base: { primitive: 'box', width: 10, height: 10, depth: 10, segments: [4, 4, 4] },
        actions: [{ op: 'transform', select: all, surface: { base: { file: 'ball.obj' } }, lay: 'center' }],
      },
      {
        id: 'k',
        name: 'Cut',
        base: { primitive: 'box', width: 10, height: 10, depth: 10 },
        actions: [
          {
            op: 'knife',
            select: { rule: 'all', of: 'faces' },
            lines: [
              [
                [-5, 5, 1],
                [5, 5, 1],
              ],
              [
                [2, 5, -5],
                [2, 5, 5],
              ],
            ],
          },
          { op: 'bevelPoints', select: { rule: 'within', of: 'points', min: [1, 4, 0], max: [3, 6, 2] }, width: 1 }, // prettier-ignore
          {
            op: 'drawFace',
            select: { rule: 'all', of: 'faces' },
            points: [
              [20, 0, 0],
              [30, 0, 0],
              [30, 0, 10],
            ],
          },
        ],
      },
    ],
  };
  const r = await cli('build', save('hand.json', round), '--out', file('hand.obj'));
  expect([r.code, r.err]).toEqual([0, '']);
  // 96 quads on the ball; a cube's six faces with its top in four, one diamond and one triangle beside it.
  expect(r.out.split('\n').map((l) => l.replace(/, \d+ triangles$/, ''))).toEqual([
    'Round: 98 points, 96 faces',
    'Cut: 19 points, 11 faces',
  ]);
  const text = readFileSync(file('hand.obj'), 'utf8');
  const ball = text
    .split('\n')
    .filter((l) => l.startsWith('v '))
    .slice(0, 98)
    .map((l) => Math.hypot(...l.slice(2).split(' ').map(Number)));
  expect(Math.min(...ball)).toBeGreaterThan(0.97 * Math.max(...ball));
  const lost = structuredClone(round);
  (lost.pieces[0].actions[0] as { surface: { base: { file: string } } }).surface.base.file = 'gone.obj';
  const bad = await cli('build', save('lost.json', lost), '--out', file('lost.obj'));
  expect(bad.code).not.toBe(0);
  expect(bad.err).toContain('gone.obj');
});

it('refuses numbers JSON loses, limits of faces, files it cannot write, and tells what overflows', async () => {
  const path = save('plate.json', recipe);
  const lost = save('lost.json', JSON.stringify(recipe).replace('"width":100', '"width":1e400'));
  expect(await cli('build', lost, '--out', file('x.obj'))).toMatchObject({
    code: 2,
    err: expect.stringMatching(/lost\.json, character \d+: The number 1e400 cannot be kept exactly/),
  });
  expect(await cli('build', path, '--out', file('x.obj'), '--max-faces', '100')).toMatchObject({
    code: 1,
    err: expect.stringMatching(/Plate, step 2: Round would make about \d+ faces; the limit is 100\./),
  });
  expect((await cli('build', path, '--out', file('x.obj'), '--max-faces', 'many')).code).toBe(2);
  expect(await cli('build', path, '--out', join(folder, 'nowhere', 'x.obj'))).toMatchObject({
    code: 2,
    err: expect.stringMatching(/cannot be written/),
  });
  const huge = save('huge.obj', 'v 0 0 0\nv 1e200 0 0\nv 0 1e200 0\nf 1 2 3\n');
  const r = await cli('check', huge);
  expect(r.out).toContain('area out of range mm²');
  expect((JSON.parse((await cli('check', huge, '--json')).out) as object[])[0]).toMatchObject({
    area: 'out of range',
  });
});

it('tells an error of its own in a sentence with the place, never a stack, with a file of details', async () => {
  const path = save('plate.json', recipe);
  const broken = vi.spyOn(Evaluator.prototype, 'build').mockImplementation((_, progress) => {
    progress?.(1, 3, 'Plate');
    throw new TypeError('x is not a function');
  });
  const r = await cli('build', path, '--out', file('x.obj'));
  broken.mockRestore();
  expect(r).toMatchObject({ code: 3, out: '' });
  expect(r.err).toMatch(
    /^Plate, step 2: internal error\. This is a fault of Urnsmith, not of the recipe\.\nDetails are in \S+\.txt$/,
  );
  const details = readFileSync(/Details are in (\S+)/.exec(r.err)![1], 'utf8');
  expect(details).toContain('TypeError: x is not a function');
  rmSync(/Details are in (\S+)/.exec(r.err)![1]);
});

it('reports every step, warns on the error stream, and is strict where asked', async () => {
  const hole = { primitive: 'cylinder', radius: 10, height: 30, sides: 64 };
  const pieces = [
    {
      id: 'plate',
      base: { primitive: 'box', width: 60, height: 10, depth: 60 },
      steps: [
        { kind: 'cut', mode: 'subtract', cutters: ['hole'] },
        { kind: 'bevel', scope: { rule: 'rims' }, width: 2, segments: 2 },
      ],
    },
    { id: 'hole', role: 'cutter', base: hole, transform: { move: [19, 0, 0] } },
  ];
  const narrow = save('narrow.json', { units: 'mm', pieces, export: ['plate'] });
  const [out, report] = [file('narrow.obj'), file('narrow-report.json')];
  const r = await cli('build', narrow, '--out', out, '--report', report);
  expect(r.code).toBe(0);
  // Either end of the hole comes near to the plate's side.
  const line =
    /^plate, step 2: Stops at (0\.99\d|1) of 2 mm along \d+ edges: it reaches an edge that stays\.$/;
  expect(r.err.split('\n').map((l) => line.test(l))).toEqual([true, true]);
  const [plate] = JSON.parse(readFileSync(report, 'utf8')).pieces;
  expect(plate.shading).toEqual({
    over2: 0,
    over10: 0,
    mean: expect.closeTo(0, 6),
    worst: expect.closeTo(0, 3),
    faces: 0,
    faults: [],
    clean: true,
    says: 'Shaded as it is meant.',
  });
  expect([plate.id, plate.steps.map((s: { kind: string }) => s.kind)]).toEqual(['plate', ['cut', 'bevel']]);
  expect(plate.steps[1].warnings).toHaveLength(2);
  expect(plate.steps[1].groups).toHaveLength(2);
  for (const g of plate.steps[1].groups) {
    expect([g.edges, g.asked]).toEqual([64, 2]);
    expect(g.least).toBeLessThan(1.2);
    expect(g.full).toBeGreaterThan(0.6);
    expect(g.stops).toMatchObject([{ width: g.least, why: 'edge' }]);
  }
  expect((await cli('build', narrow, '--out', out, '--strict')).code).toBe(1);
});

it('has one verdict over the shading of a build, in the report, in a check and where it is strict', async () => {
  const box = { primitive: 'box', width: 60, height: 40, depth: 30 };
  const round = { kind: 'bevel', scope: { rule: 'sharp', angle: 30 }, width: 3, segments: 2 };
  const saved = (weight: string): string =>
    save(`${weight}.json`, {
      units: 'mm',
      pieces: [{ id: 'a', base: box, steps: [round, { kind: 'normals', weight, hardAngle: 40 }] }],
    });
  const [out, report] = [file('shaded.glb'), file('shaded.json')];
  const clean = await cli('build', saved('built'), '--out', out, '--report', report, '--strict');
  expect([clean.code, clean.err]).toEqual([0, '']);
  const creased = await cli('build', saved('area'), '--out', out, '--report', report, '--strict');
  const { says, over2, over10 } = JSON.parse(readFileSync(report, 'utf8')).pieces[0].shading;
  expect([over2, over10]).toEqual([expect.closeTo(0.198, 2), expect.closeTo(0.127, 2)]);
  expect(says).toMatch(/^\d+ faces lean: 20% of the area over 2°, 13% over 10°, 25\.\d° at most\.$/);
  expect([creased.code, creased.err.trim()]).toEqual([1, `a, shading: ${says}`]);
  expect((await cli('check', saved('area'))).out).toContain(`  shading: ${says}`);
});

it('tells with a build all that a check would find in its file, and fails by it where it is strict', async () => {
  // A corner pulled through the opposite side.
  const pulled = { op: 'transform', select: { points: [0] }, move: [45, 3, 2] };
  const box = { primitive: 'box', width: 20, height: 20, depth: 20 };
  const through = save('through.json', { units: 'mm', pieces: [{ id: 'a', base: box, actions: [pulled] }] });
  const out = file('through.obj');
  const built = await cli('build', through, '--out', out);
  expect([built.code, built.err]).toEqual([0, expect.stringMatching(/^a: crossing ×\d+: an edge passes through a face$/m)]); // prettier-ignore
  expect((await cli('build', through, '--out', out, '--strict')).code).toBe(1);
  const checked = await cli('check', out);
  expect([checked.code, checked.out]).toEqual([1, expect.stringContaining('crossing ×')]);
  // An open sheet is no fault.
  const sheet = save('sheet.json', { units: 'mm', pieces: [{ id: 's', base: { primitive: 'plane', width: 9, depth: 9 } }] }); // prettier-ignore
  expect(await cli('build', sheet, '--out', out, '--strict')).toMatchObject({ code: 0, err: '' });
});
