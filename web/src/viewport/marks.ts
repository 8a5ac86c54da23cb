/** Small marks drawn over the model: dots, where a drag snaps to, the peg. */
import {
  BufferAttribute,
  BufferGeometry,
  Float32BufferAttribute,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  OctahedronGeometry,
  Points,
  PointsMaterial,
  Vector3,
} from 'three';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import { AXIS_COLORS } from './Gizmo';

/** Round dots, drawn a little in front of the surface they lie on. */
export function dots(parameters: ConstructorParameters<typeof PointsMaterial>[0]): PointsMaterial {
  const m = new PointsMaterial({ ...parameters, sizeAttenuation: false, alphaTest: 0.5 });
  m.onBeforeCompile = (shader) => {
    shader.vertexShader = shader.vertexShader.replace(
      '#include <fog_vertex>',
      'gl_Position.z -= 0.0006 * gl_Position.w;\n#include <fog_vertex>',
    );
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <alphatest_fragment>',
      'if (length(gl_PointCoord - 0.5) > 0.5) discard;\n#include <alphatest_fragment>',
    );
  };
  return m;
}

const AMBER = '#f0b35f';

export function snapMark(): Points {
  const g = new BufferGeometry().setAttribute('position', new BufferAttribute(new Float32Array(3), 3));
  const mark = new Points(g, dots({ color: AMBER, size: 13, depthTest: false, toneMapped: false }));
  mark.visible = false;
  mark.frustumCulled = false;
  mark.renderOrder = 21;
  mark.raycast = () => {};
  return mark;
}

/** Pixels: how long the peg's arms are drawn. */
const ARM = 34;

/** The peg: a small solid diamond on its axis, with arms in the axis colours, the same size at any distance. */
export class PegMark extends LineSegments<BufferGeometry, LineBasicMaterial> {
  private readonly body = new Mesh(
    new OctahedronGeometry(1),
    new MeshBasicMaterial({ color: AMBER, depthTest: false, transparent: true, toneMapped: false }),
  );

  constructor() {
    const lines: number[] = [];
    const colors: number[] = [];
    const add = (a: number[], b: number[], hex: string): void => {
      const n = Number.parseInt(hex.slice(1), 16);
      const rgb = [n >> 16, (n >> 8) & 255, n & 255].map((x) => (x / 255) ** 2.2);
      lines.push(...a, ...b);
      colors.push(...rgb, ...rgb);
    };
    AXIS_COLORS.forEach((c, k) =>
      add(
        [0, 0, 0],
        [0, 1, 2].map((i) => Number(i === k)),
        c,
      ),
    );
    super(
      new BufferGeometry()
        .setAttribute('position', new Float32BufferAttribute(lines, 3))
        .setAttribute('color', new Float32BufferAttribute(colors, 3)),
      new LineBasicMaterial({ vertexColors: true, depthTest: false, transparent: true, toneMapped: false }),
    );
    this.body.scale.set(0.2, 0.42, 0.2);
    this.body.renderOrder = 20;
    this.body.raycast = () => {};
    this.body.frustumCulled = false;
    this.add(this.body);
    this.visible = false;
    this.frustumCulled = false;
    this.renderOrder = 19;
    this.raycast = () => {};
  }

  stand(frame: Matrix | null): void {
    this.visible = frame !== null;
    if (frame) new Matrix4().fromArray(frame).decompose(this.position, this.quaternion, new Vector3());
  }

  fit(pixel: number): void {
    this.scale.setScalar(pixel * ARM);
  }
}
