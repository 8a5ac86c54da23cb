/** Command line: `urnsmith build recipe.json --out piece.glb` and `urnsmith check file [--json]`. */
import { readFileSync, writeFileSync } from 'node:fs';
import { dirname, extname, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { recipeFaults } from '@urnsmith/core/document/validate';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Recipe } from '@urnsmith/core/document/schema';
import { FORMATS, UNITS, usualUnit, type Format, type Part, type Unit } from '@urnsmith/core/formats/part';
import { writeParts } from '@urnsmith/core/formats/index';
import { readObj } from '@urnsmith/core/formats/readObj';
import { checkMesh } from '@urnsmith/core/mesh/checkMesh';
import { OperationError } from '@urnsmith/core/mesh/errors';
import { eulerCharacteristic, faceKinds, shellCount, surfaceArea, volume } from '@urnsmith/core/mesh/measure';
import { faceCount, triangleCount, vertexCount, type PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { topologyOf } from '@urnsmith/core/mesh/Topology';
import { Evaluator } from '@urnsmith/core/steps/evaluate';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { joinMeshes } from '@urnsmith/core/ops/join';

export const USAGE = `Usage:
  urnsmith build RECIPE.json --out FILE   build a recipe and write ${FORMATS.join(', ')} (by extension)
      --unit mm|cm|m|in   length of one file unit (glTF: m, others: mm)
      --up y|z            which axis points up (y)
      --pieces a,b        write these pieces instead of the recipe's export list
  urnsmith check FILE [--json]            check a mesh file or a recipe's exported pieces
Exit codes: 0 done, 1 the geometry cannot be built or is faulty, 2 the call or the recipe is wrong.`;

/** Wrong call or wrong recipe: exit code 2. */
class UsageError extends Error {}

export interface Output {
  out: (line: string) => void;
  err: (line: string) => void;
}

/** Runs the command line; returns the exit code. */
export async function run(argv: string[], io: Output): Promise<0 | 1 | 2> {
  try {
    return await dispatch(argv, io);
  } catch (e) {
    if (e instanceof UsageError) {
      io.err(e.message);
      return 2;
    }
    if (e instanceof OperationError) {
      io.err(e.message);
      if (e.fix) io.err(e.fix);
      return 1;
    }
    throw e;
  }
}

async function dispatch(argv: string[], io: Output): Promise<0 | 1 | 2> {
  const { values, positionals } = readArguments(argv);
  const [command, file, ...rest] = positionals;
  if (values.help) {
    io.out(USAGE);
    return 0;
  }
  if (!file || rest.length) throw new UsageError(USAGE);
  if (command === 'build') return build(file, values, io);
  if (command === 'check') return check(file, values.json === true, io);
  throw new UsageError(`“${command}” is no command.\n${USAGE}`);
}

function readArguments(argv: string[]) {
  try {
    return parseArgs({
      args: argv,
      allowPositionals: true,
      options: {
        out: { type: 'string' },
        unit: { type: 'string' },
        up: { type: 'string' },
        pieces: { type: 'string' },
        json: { type: 'boolean' },
        help: { type: 'boolean' },
      },
    });
  } catch (e) {
    throw new UsageError(`${(e as Error).message}\n${USAGE}`);
  }
}

async function build(
  file: string,
  options: { out?: string; unit?: string; up?: string; pieces?: string },
  io: Output,
): Promise<0 | 1> {
  if (!options.out) throw new UsageError('build needs --out FILE.');
  const format = extname(options.out).slice(1).toLowerCase() as Format;
  if (!FORMATS.includes(format))
    throw new UsageError(`“.${format}” is not a format; use ${FORMATS.join(', ')}.`);
  const unit = (options.unit ?? usualUnit(format)) as Unit;
  if (!(unit in UNITS))
    throw new UsageError(`“${unit}” is not a unit; use ${Object.keys(UNITS).join(', ')}.`);
  const up = options.up ?? 'y';
  if (up !== 'y' && up !== 'z') throw new UsageError('--up takes y or z.');
  const parts = await buildRecipe(file, options.pieces?.split(','));
  writeFileSync(options.out, await writeParts(parts, { format, unit, up }));
  for (const p of parts)
    io.out(
      `${p.name}: ${vertexCount(p.mesh)} points, ${faceCount(p.mesh)} faces, ${triangleCount(p.mesh)} triangles`,
    );
  return 0;
}

async function buildRecipe(file: string, only?: string[]): Promise<Part[]> {
  const recipe = readRecipe(file);
  await loadKernel();
  const evaluator = new Evaluator(
    {
      blob: () => {
        throw new OperationError('no-blob', 'A recipe cannot refer to stored meshes; give a file instead.');
      },
      file: (path) => readMesh(resolve(dirname(file), path)),
    },
    true,
  );
  evaluator.setPieces(recipe.pieces);
  const byId = new Map(recipe.pieces.map((p) => [p.id, p]));
  const chosen =
    only ??
    recipe.export ??
    recipe.pieces.filter((p) => !('group' in p.base) && (p.role ?? 'solid') === 'solid').map((p) => p.id);
  return chosen.map((id) => {
    const piece = byId.get(id);
    if (!piece) throw new UsageError(`The recipe has no piece “${id}”.`);
    const built = evaluator.build(id);
    const action = built.actions.findIndex((a) => a.fault);
    const step = built.steps.find((s) => s.fault);
    const fault = built.actions[action]?.fault ?? step?.fault;
    const where = action >= 0 ? `action ${action + 1}` : `step ${(step?.index ?? 0) + 1}`;
    if (fault)
      throw new OperationError(
        fault.code,
        `${piece.name ?? id}, ${where}: ${fault.message}`,
        undefined,
        fault.fix,
      );
    return { name: piece.name ?? id, mesh: built.mesh, matrix: worldMatrix(byId, id), color: piece.color };
  });
}

function readRecipe(file: string): Recipe {
  let value: unknown;
  try {
    value = JSON.parse(readText(file));
  } catch (e) {
    if (e instanceof UsageError) throw e;
    throw new UsageError(`${file} is not JSON: ${(e as Error).message}`);
  }
  const faults = recipeFaults(value);
  if (faults.length)
    throw new UsageError(faults.map((f) => `${f.path || 'recipe'}: ${f.message}`).join('\n'));
  return value as Recipe;
}

function readText(file: string): string {
  try {
    return readFileSync(file, 'utf8');
  } catch {
    throw new UsageError(`${file} cannot be read.`);
  }
}

function readMesh(file: string): PolyMesh {
  if (extname(file).toLowerCase() !== '.obj') throw new UsageError(`${file}: only OBJ files can be read.`);
  return joinMeshes(readObj(readText(file)).map((o) => o.mesh));
}

async function check(file: string, json: boolean, io: Output): Promise<0 | 1> {
  const parts: Array<{ name: string; mesh: PolyMesh }> =
    extname(file).toLowerCase() === '.json'
      ? await buildRecipe(file)
      : extname(file).toLowerCase() === '.obj'
        ? readObj(readText(file))
        : [{ name: file, mesh: readMesh(file) }];
  const reports = parts.map(({ name, mesh }) => {
    const { valid, closed, findings } = checkMesh(mesh);
    return {
      name,
      valid,
      closed,
      points: vertexCount(mesh),
      edges: topologyOf(mesh).edgeCount,
      faces: faceCount(mesh),
      ...faceKinds(mesh),
      shells: shellCount(mesh),
      euler: eulerCharacteristic(mesh),
      volume: closed ? volume(mesh) : null,
      area: surfaceArea(mesh),
      findings: findings.map((f) => ({ ...f, elements: f.elements.slice(0, 20) })),
    };
  });
  if (json) io.out(JSON.stringify(reports, null, 2));
  else
    for (const r of reports) {
      io.out(`${r.name}: ${r.closed ? 'closed solid' : r.valid ? 'sound, open' : 'faulty'}`);
      io.out(`  ${r.points} points, ${r.edges} edges, ${r.faces} faces (${r.triangles} triangles, ${r.quads} quads, ${r.ngons} n-gons), ${r.shells} shells, Euler ${r.euler}`); // prettier-ignore
      io.out(
        `  area ${r.area.toFixed(3)} mm²${r.volume === null ? '' : `, volume ${r.volume.toFixed(3)} mm³`}`,
      );
      for (const f of r.findings)
        io.out(`  ${f.code} ×${f.count}: ${f.message} (${f.domain} ${f.elements.slice(0, 8).join(', ')})`);
    }
  return reports.every((r) => r.valid) ? 0 : 1;
}
