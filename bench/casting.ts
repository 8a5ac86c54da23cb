/** Cost of casting: normals onto a surface, and rays for bent normals, against the same queries by a general tree. */
import { BufferAttribute, BufferGeometry, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { drawableOf } from '@urnsmith/core/formats/drawable';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { pointOf } from '@urnsmith/core/mesh/vec3';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { bentNormals } from '@urnsmith/core/shading/bentNormals';
import { castNormals } from '@urnsmith/core/shading/castNormals';
import { shadingNormals } from '@urnsmith/core/shading/shadingNormals';
import { compare, fresh, ms, ratio, row } from './report';

const REACH = 1000;
const RAYS = 64;

function geometryOf(mesh: PolyMesh): BufferGeometry {
  const d = drawableOf(mesh);
  return new BufferGeometry()
    .setAttribute('position', new BufferAttribute(d.positions, 3))
    .setIndex(new BufferAttribute(d.indices.slice(), 1));
}

/** As many quads as squares of a number, on a ball. */
const ball = (radius: number, divisions: number): PolyMesh =>
  buildPrimitive({ primitive: 'quadSphere', radius, divisions });

function cast(): void {
  const [onto, from] = [ball(50, 91), ball(50.5, 129)];
  const corners = onto.corners.length;
  const [ours, theirs] = compare(
    () => void castNormals(fresh(onto), fresh(from), { way: 'nearest', reach: 5, turn: 60, strength: 1, hard: 'keep', faces: null }), // prettier-ignore
    () => {
      const bvh = new MeshBVH(geometryOf(from));
      const at = new Vector3();
      const found = { point: new Vector3(), distance: 0, faceIndex: 0 };
      for (const v of onto.corners) bvh.closestPointToPoint(at.set(...pointOf(onto.positions, v)), found);
    },
    3,
    1,
  );
  row(`${corners} corners onto ${from.faceStart.length - 1} quads`, [
    ms(ours),
    ms(theirs),
    ratio(ours, theirs),
  ]);
}

function rays(): void {
  const mesh = buildPrimitive({ primitive: 'torus', radius: 50, tubeRadius: 20, sides: 220, tubeSides: 114 });
  const normals = shadingNormals(mesh);
  const corners = mesh.corners.length;
  const [ours, theirs] = compare(
    () => void bentNormals(fresh(mesh), { rays: RAYS, reach: REACH, seed: 0 }),
    () => {
      const bvh = new MeshBVH(geometryOf(mesh));
      const ray = new Ray();
      for (let c = 0; c < corners; c++) {
        const n = pointOf(normals, c);
        ray.origin.set(...pointOf(mesh.positions, mesh.corners[c])).addScaledVector(new Vector3(...n), 1e-3);
        for (let k = 0; k < RAYS; k++) {
          // Any direction of the hemisphere will do for the time.
          const [z, turn] = [(k + 0.5) / RAYS, k * 2.399963];
          const r = Math.sqrt(1 - z * z);
          ray.direction.set(r * Math.cos(turn), r * Math.sin(turn), z);
          if (ray.direction.dot(new Vector3(...n)) < 0) ray.direction.negate();
          bvh.raycastFirst(ray);
        }
      }
    },
    1,
    0,
  );
  row(`${corners} corners, ${RAYS} rays each`, [ms(ours), ms(theirs), ratio(ours, theirs)]);
}

export function casting(): void {
  console.log(
    '\nCasting, against three-mesh-bvh (cast at most 4 times its nearest points, rays at most 1.3 times its rays)',
  );
  row('', ['ours', 'its', 'ratio']);
  cast();
  rays();
}
