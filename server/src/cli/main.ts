/** Command line: building recipes, checking meshes, and looking after the library (`store …`). */
import { readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, extname, join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { JsonError, parseJson } from '@urnsmith/core/schema/json';
import { recipeFaults } from '@urnsmith/core/document/validate';
import { LIMITS, type Limits } from '@urnsmith/core/ops/operation';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Recipe } from '@urnsmith/core/document/schema';
import { UNITS, type Part, type Unit } from '@urnsmith/core/formats/part';
import type { NamedMesh } from '@urnsmith/core/formats/define';
import { FORMATS, formatOf, READ, readMeshes, WRITTEN, writeParts } from '@urnsmith/core/formats/index';
import { inspectMesh } from '@urnsmith/core/inspect/inspectMesh';
import { OperationError } from '@urnsmith/core/mesh/errors';
import { eulerCharacteristic, faceKinds, shellCount, surfaceArea, volume } from '@urnsmith/core/mesh/measure';
import { faceCount, triangleCount, vertexCount, type PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { topologyOf } from '@urnsmith/core/mesh/Topology';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import { measured as shadingOf, type Measured } from '@urnsmith/core/build/repair';
import type { StepReport } from '@urnsmith/core/build/report';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { joinMeshes } from '@urnsmith/core/ops/join';
import { OpenError, StoreError, troubleOf } from '../store/errors';
import { UsageError, type ExitCode, type Output } from './command';
import { store, STORE_USAGE } from './store';

export const USAGE = `Usage:
  urnsmith build RECIPE.json --out FILE   build a recipe and write ${WRITTEN.join(', ')} (by extension)
      --unit mm|cm|m|in   length of one file unit (glTF: m, others: mm)
      --up y|z            which axis points up (y)
      --pieces a,b        write these pieces instead of the recipe's export list
      --max-faces N       refuse a step or action that would make more (5000000)
      --report FILE.json  write what became of every step, with its warnings
      --strict            end with 1 where a step warns, or a check would find a fault
  urnsmith check FILE [--json]            check a mesh file or a recipe's exported pieces
${STORE_USAGE}
Exit codes: 0 done, 1 the geometry cannot be built or is faulty, 2 the call or the recipe is wrong, 3 an error of the program.`;

/** Runs the command line; returns the exit code. */
export async function run(argv: string[], io: Output): Promise<ExitCode> {
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
    if (e instanceof OpenError || e instanceof StoreError) {
      io.err(e.message);
      return 1;
    }
    const trouble = troubleOf(e);
    if (trouble) {
      io.err(trouble.message);
      return 1;
    }
    return internal(e, argv, io);
  }
}

/** An error of the program itself: a sentence with the place, and a file with the details. */
function internal(e: unknown, argv: string[], io: Output): 3 {
  const where = e instanceof BuildingError ? `${e.place}: ` : '';
  const cause = e instanceof BuildingError ? e.cause : e;
  const file = join(tmpdir(), `urnsmith-error-${process.pid}-${Date.now()}.txt`);
  const details = cause instanceof Error ? (cause.stack ?? cause.message) : String(cause);
  io.err(`${where}internal error. This is a fault of Urnsmith, not of the recipe.`);
  try {
    writeFileSync(file, `urnsmith ${argv.join(' ')}\n${where}\n${details}\n`);
    io.err(`Details are in ${file}`);
  } catch {
    io.err('The details could not be written to a file.');
  }
  return 3;
}

/** An error of the program while a piece was built. */
class BuildingError extends Error {
  constructor(
    readonly place: string,
    override readonly cause: unknown,
  ) {
    super(place);
  }
}

async function dispatch(argv: string[], io: Output): Promise<0 | 1 | 2> {
  const { values, positionals } = readArguments(argv);
  const [command, file, ...rest] = positionals;
  if (values.help) {
    io.out(USAGE);
    return 0;
  }
  if (command === 'store' && file) return store(file, rest, values, io);
  if (!file || rest.length) throw new UsageError(USAGE);
  if (command === 'build') return build(file, values, io);
  if (command === 'check') return check(file, values, io);
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
        'max-faces': { type: 'string' },
        report: { type: 'string' },
        strict: { type: 'boolean' },
        data: { type: 'string' },
        from: { type: 'string' },
        help: { type: 'boolean' },
      },
    });
  } catch (e) {
    throw new UsageError(`${(e as Error).message}\n${USAGE}`);
  }
}

async function build(
  file: string,
  options: Options & {
    out?: string;
    unit?: string;
    up?: string;
    pieces?: string;
    report?: string;
    strict?: boolean;
  },
  io: Output,
): Promise<0 | 1> {
  if (!options.out) throw new UsageError('build needs --out FILE.');
  const format = formatOf(options.out);
  if (!format || !WRITTEN.includes(format))
    throw new UsageError(`“${extname(options.out)}” is not a format; use ${WRITTEN.join(', ')}.`);
  const unit = (options.unit ?? FORMATS[format].unit) as Unit;
  if (!(unit in UNITS))
    throw new UsageError(`“${unit}” is not a unit; use ${Object.keys(UNITS).join(', ')}.`);
  const up = options.up ?? 'y';
  if (up !== 'y' && up !== 'z') throw new UsageError('--up takes y or z.');
  const parts = await buildRecipe(file, limitsOf(options), options.pieces?.split(','));
  write(options.out, await writeParts(format, parts, { unit, up }));
  if (options.report) write(options.report, JSON.stringify({ pieces: parts.map(reportOf) }, null, 2));
  for (const p of parts)
    io.out(
      `${p.name}: ${vertexCount(p.mesh)} points, ${faceCount(p.mesh)} faces, ${triangleCount(p.mesh)} triangles`,
    );
  const warnings = parts.flatMap((p) =>
    p.steps.flatMap((s) => s.warnings.map((w) => `${p.name}, step ${s.index + 1}: ${w.message}`)),
  );
  // As `check` would find it in the file; an open mesh is no fault.
  const faults = parts.flatMap((p) => {
    const { findings } = inspectMesh(p.mesh);
    return findings.flatMap((f) =>
      f.code === 'open-edge' ? [] : [`${p.name}: ${f.code} ×${f.count}: ${f.message}`],
    );
  });
  for (const w of [...warnings, ...faults]) io.err(w);
  if (!options.strict) return 0;
  const wrong = parts.filter((p) => !p.shading().verdict.clean);
  for (const p of wrong) io.err(`${p.name}, shading: ${p.shading().verdict.says}`);
  return warnings.length || faults.length || wrong.length ? 1 : 0;
}

function write(file: string, content: string | Uint8Array): void {
  try {
    writeFileSync(file, content);
  } catch (e) {
    throw new UsageError(`${file} cannot be written: ${(e as Error).message}`);
  }
}

/** A piece of a recipe, and what became of its steps. */
interface BuiltPart extends Part {
  id: string;
  /** Measured when it is asked for. */
  shading(): Measured;
  steps: StepReport[];
}

const reportOf = ({ id, name, mesh, shading, steps }: BuiltPart) => ({
  id,
  name,
  points: vertexCount(mesh),
  faces: faceCount(mesh),
  shading: shadingReport(shading()),
  steps: steps.map(({ index, kind, ms, counts, warnings, groups }) => ({
    index,
    kind,
    ms,
    counts,
    warnings: warnings.map(({ code, message }) => ({ code, message })),
    ...(groups && { groups }),
  })),
});

/** Shares of the area off by more than 2° and 10°, mean and worst in degrees; other faults by kind; and all in a sentence. */
const shadingReport = ({ over2, over10, mean, worst, facesOver, faults, verdict }: Measured) => ({
  over2,
  over10,
  mean,
  worst,
  faces: facesOver,
  faults,
  ...verdict,
});

interface Options {
  json?: boolean;
  'max-faces'?: string;
}

function limitsOf({ 'max-faces': most }: Options): Limits {
  if (most === undefined) return LIMITS;
  const faces = Number(most);
  if (!Number.isInteger(faces) || faces < 1 || faces > 100_000_000)
    throw new UsageError('--max-faces takes a whole number from 1 to 100000000.');
  return { faces };
}

async function buildRecipe(file: string, limits: Limits, only?: string[]): Promise<BuiltPart[]> {
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
    limits,
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
    let at = piece.name ?? id;
    let built: ReturnType<Evaluator['build']>;
    try {
      built = evaluator.build(id, (done, _, label) => (at = `${label}, step ${done + 1}`));
    } catch (e) {
      if (e instanceof OperationError || e instanceof UsageError) throw e;
      throw new BuildingError(at, e);
    }
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
    return {
      id,
      name: piece.name ?? id,
      mesh: built.mesh,
      matrix: worldMatrix(byId, id),
      color: piece.color,
      shading: onceOnly(() => shadingOf(built)),
      steps: built.steps,
    };
  });
}

function readRecipe(file: string): Recipe {
  let value: unknown;
  try {
    value = parseJson(readBytes(file).toString('utf8'));
  } catch (e) {
    if (!(e instanceof JsonError)) throw e;
    throw new UsageError(`${file}${e.place ? `, ${e.place}` : ''}: ${e.message}`);
  }
  const faults = recipeFaults(value);
  if (faults.length)
    throw new UsageError(faults.map((f) => `${f.path || 'recipe'}: ${f.message}`).join('\n'));
  return value as Recipe;
}

function readBytes(file: string): Buffer {
  try {
    return readFileSync(file);
  } catch {
    throw new UsageError(`${file} cannot be read.`);
  }
}

/** @throws UsageError where it is of no format that is read */
function readParts(file: string): NamedMesh[] {
  const format = formatOf(file);
  if (!format || !READ.includes(format))
    throw new UsageError(`${file}: only ${READ.join(', ').toUpperCase()} files can be read.`);
  return readMeshes(format, readBytes(file));
}

const readMesh = (file: string): PolyMesh => joinMeshes(readParts(file).map((o) => o.mesh));

async function check(file: string, options: Options, io: Output): Promise<0 | 1> {
  const parts: Array<{ name: string; mesh: PolyMesh; shading?(): Measured }> =
    extname(file).toLowerCase() === '.json' ? await buildRecipe(file, limitsOf(options)) : readParts(file);
  const reports = parts.map(({ name, mesh, shading }) => {
    const { valid, closed, findings } = inspectMesh(mesh);
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
      volume: closed ? inRange(volume(mesh)) : null,
      area: inRange(surfaceArea(mesh)),
      shading: shadingReport(shading?.() ?? shadingOf(asItIs(mesh))),
      findings: findings.map((f) => ({ ...f, elements: f.elements.slice(0, 20) })),
    };
  });
  if (options.json) io.out(JSON.stringify(reports, null, 2));
  else
    for (const r of reports) {
      io.out(`${r.name}: ${r.closed ? 'closed solid' : r.valid ? 'sound, open' : 'faulty'}`);
      io.out(`  ${r.points} points, ${r.edges} edges, ${r.faces} faces (${r.triangles} triangles, ${r.quads} quads, ${r.ngons} n-gons), ${r.shells} shells, Euler ${r.euler}`); // prettier-ignore
      io.out(
        `  area ${measured(r.area)} mm²${r.volume === null ? '' : `, volume ${measured(r.volume)} mm³`}`,
      );
      io.out(`  shading: ${r.shading.says}`);
      for (const f of r.findings)
        io.out(`  ${f.code} ×${f.count}: ${f.message} (${f.domain} ${f.elements.slice(0, 8).join(', ')})`);
    }
  return reports.every((r) => r.valid) ? 0 : 1;
}

/** A mesh from a file: what it was before is not known. */
const asItIs = (mesh: PolyMesh): Parameters<typeof shadingOf>[0] => ({
  mesh,
  formed: mesh,
  lane: { bare: mesh, madeIn: null, marks: [], steps: [] },
});

function onceOnly<T>(make: () => T): () => T {
  let made: { is: T } | undefined;
  return () => (made ??= { is: make() }).is;
}

/** Coordinates near the end of what numbers hold have areas and volumes beyond it. */
const inRange = (x: number): number | 'out of range' => (Number.isFinite(x) ? x : 'out of range');
const measured = (x: number | 'out of range'): string => (typeof x === 'number' ? x.toFixed(3) : x);
