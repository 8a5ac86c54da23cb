/** Checks every invariant a mesh must keep, and names the elements at fault. */
import { type PolyMesh, faceCount, vertexCount } from './PolyMesh';
import { facesWithoutArea } from './measure';
import { topologyOf } from './Topology';

export interface Finding {
  code:
    | 'bad-structure'
    | 'not-finite'
    | 'few-corners'
    | 'repeated-corner'
    | 'unused-vertex'
    | 'zero-area'
    | 'open-edge'
    | 'folded-edge'
    | 'non-manifold-edge'
    | 'non-manifold-vertex'
    | 'bad-layer'
    | 'narrow-face'
    | 'fold'
    | 'crossing';
  message: string;
  domain: 'vertex' | 'edge' | 'face' | 'mesh';
  /** Up to `LIMIT` element indices. */
  elements: number[];
  count: number;
}

export const LIMIT = 1000;

export interface MeshCheck {
  /** No finding at all other than open edges. */
  valid: boolean;
  /** Valid and without an open edge: encloses a volume. */
  closed: boolean;
  findings: Finding[];
}

/** Runs all checks; linear in the size of the mesh. Never throws on a malformed mesh. */
export function checkMesh(mesh: PolyMesh): MeshCheck {
  const found = new Map<string, Finding>();
  const report = (
    code: Finding['code'],
    domain: Finding['domain'],
    element: number,
    message: string,
  ): void => {
    let f = found.get(code);
    if (!f) found.set(code, (f = { code, message, domain, elements: [], count: 0 }));
    f.count++;
    if (f.elements.length < LIMIT && element >= 0) f.elements.push(element);
  };
  if (checkStructure(mesh, report)) {
    checkFaces(mesh, report);
    checkEdges(mesh, report);
    checkVertices(mesh, report);
    checkLayers(mesh, report);
  }
  const findings = [...found.values()];
  return {
    valid: findings.every((f) => f.code === 'open-edge'),
    closed: findings.length === 0,
    findings,
  };
}

type Report = (code: Finding['code'], domain: Finding['domain'], element: number, message: string) => void;

function checkStructure(m: PolyMesh, reportTo: Report): boolean {
  const V = vertexCount(m);
  let sound = true;
  const report: Report = (code, ...rest) => {
    if (code === 'bad-structure' || code === 'few-corners') sound = false;
    reportTo(code, ...rest);
  };
  if (!Number.isInteger(V)) report('bad-structure', 'mesh', -1, 'positions are not a multiple of 3');
  if (m.faceStart[0] !== 0 || m.faceStart[faceCount(m)] !== m.corners.length)
    report('bad-structure', 'mesh', -1, 'face starts do not cover the corners');
  for (let f = 0; f < faceCount(m); f++)
    if (m.faceStart[f + 1] < m.faceStart[f]) report('bad-structure', 'face', f, 'face starts run backwards');
  for (let c = 0; c < m.corners.length; c++)
    if (m.corners[c] >= V) {
      report('bad-structure', 'mesh', c, 'a corner points past the last vertex');
      break;
    }
  for (let i = 0; i < m.positions.length; i++)
    if (!Number.isFinite(m.positions[i]))
      report('not-finite', 'vertex', Math.floor(i / 3), 'a coordinate is not a finite number');
  for (let f = 0; f < faceCount(m); f++)
    if (m.faceStart[f + 1] - m.faceStart[f] < 3)
      report('few-corners', 'face', f, 'a face has fewer than 3 corners');
  return sound;
}

function checkFaces(m: PolyMesh, report: Report): void {
  const seen = new Int32Array(vertexCount(m)).fill(-1);
  for (let f = 0; f < faceCount(m); f++) {
    let repeated = false;
    for (let c = m.faceStart[f]; c < m.faceStart[f + 1]; c++) {
      if (seen[m.corners[c]] === f) repeated = true;
      seen[m.corners[c]] = f;
    }
    if (repeated) report('repeated-corner', 'face', f, 'a face visits a vertex twice');
  }
  for (const f of facesWithoutArea(m)) report('zero-area', 'face', f, 'a face has no area');
}

function checkEdges(m: PolyMesh, report: Report): void {
  const t = topologyOf(m);
  for (let e = 0; e < t.edgeCount; e++) {
    if (t.edgeUse[e] === 1) report('open-edge', 'edge', e, 'an edge has only one face');
    else if (t.edgeUse[e] > 2) report('non-manifold-edge', 'edge', e, 'an edge has more than two faces');
    else if (t.twin[t.cornerOfEdge[e]] < 0)
      report('folded-edge', 'edge', e, 'the two faces at an edge run the same way along it');
  }
}

function checkVertices(m: PolyMesh, report: Report): void {
  const t = topologyOf(m);
  const prev = (c: number): number => {
    const f = t.faceOfCorner[c];
    return c === m.faceStart[f] ? m.faceStart[f + 1] - 1 : c - 1;
  };
  for (let v = 0; v < vertexCount(m); v++) {
    const s = t.vertexStart[v];
    const n = t.vertexStart[v + 1] - s;
    if (n === 0) {
      report('unused-vertex', 'vertex', v, 'a vertex belongs to no face');
      continue;
    }
    // Walk the fan from a corner that starts it; a second fan means the shells only touch here.
    let start = t.vertexCorners[s];
    for (let i = s; i < s + n; i++) {
      const c = t.vertexCorners[i];
      if (t.twin[c] < 0) start = c;
    }
    let c = start;
    let walked = 0;
    do {
      walked++;
      c = t.twin[prev(c)];
    } while (c >= 0 && c !== start && walked <= n);
    if (walked < n) report('non-manifold-vertex', 'vertex', v, 'separate fans of faces touch in a vertex');
  }
}

function checkLayers(m: PolyMesh, report: Report): void {
  const count = {
    vertex: vertexCount(m),
    edge: topologyOf(m).edgeCount,
    corner: m.corners.length,
    face: faceCount(m),
  };
  for (const domain of ['vertex', 'edge', 'corner', 'face'] as const)
    for (const [name, layer] of Object.entries(m.layers[domain])) {
      if (layer.data.length !== count[domain] * layer.size)
        report('bad-layer', 'mesh', -1, `the ${domain} layer “${name}” has the wrong length`);
      else if (layer.data.some((x) => !Number.isFinite(x)))
        report('bad-layer', 'mesh', -1, `the ${domain} layer “${name}” holds a number that is not finite`);
    }
}
