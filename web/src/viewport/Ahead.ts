/**
 * Compiles what will be drawn later while nothing is drawn: shaders of all looks and of marks that are not there yet. One
 * at a time, so that a hand that comes back waits for one of them at most.
 */
import {
  BoxGeometry,
  InstancedMesh,
  LineSegments,
  Mesh,
  type Camera,
  type Scene,
  type WebGLRenderer,
} from 'three';
import { LOOK_NAMES, LOOKS, type Looks } from './looks';
import { sharedMaterials } from './sharedMaterials';

/** Nothing has been drawn for so long, ms. */
const REST = 1200;
const PLAIN = { xray: false, faint: false, lit: 'none', color: '#ffffff', coloured: false } as const;

interface Program {
  getUniforms(): unknown;
}

export class Ahead {
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly shape = new BoxGeometry();
  private left: Array<() => Mesh | LineSegments>;

  /** @param scene whose lights the shaders are for */
  constructor(
    private readonly renderer: WebGLRenderer,
    private readonly camera: Camera,
    private readonly scene: Scene,
    looks: Looks,
  ) {
    const shape = this.shape;
    shape.setAttribute('color', shape.attributes.normal);
    this.left = [
      ...sharedMaterials().map((m) => () => new Mesh(shape, m)),
      ...LOOK_NAMES.flatMap((look) => [
        () => new Mesh(shape, looks.material(look, PLAIN)),
        ...(LOOKS[look].crowds ? [() => new InstancedMesh(shape, looks.material(look, PLAIN), 1)] : []),
      ]),
    ];
  }

  /** A frame was drawn: goes on once nothing more is. */
  wait(): void {
    clearTimeout(this.timer);
    if (this.left.length) this.timer = setTimeout(() => void this.next(), REST);
  }

  stop(): void {
    clearTimeout(this.timer);
    this.left = [];
    this.shape.dispose();
  }

  private async next(): Promise<void> {
    const made = this.left.shift()?.();
    if (!made) return;
    await this.renderer.compileAsync(made, this.camera, this.scene);
    // The first draw would ask for its uniforms, and wait for the answer.
    const { currentProgram } = this.renderer.properties.get(made.material) as { currentProgram?: Program };
    currentProgram?.getUniforms();
    if (made instanceof InstancedMesh) made.dispose();
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.next(), 0);
  }
}
