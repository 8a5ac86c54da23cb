/**
 * Materials that all stages share. A renderer listens to every material it has drawn, so these are let go of when a stage
 * is left: else they would hold its renderer.
 */
import type { Material } from 'three';

const all: Material[] = [];

export function shared<M extends Material>(material: M): M {
  all.push(material);
  return material;
}

/** A stage that still draws makes what it needs of them anew. */
export const letGoOfShared = (): void => all.forEach((m) => m.dispose());

export const sharedMaterials = (): ReadonlyArray<Material> => all;
