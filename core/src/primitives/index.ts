/** Parametric primitives: what their numbers are, and the meshes made of them. */
export * from './schema';
export { buildPrimitive, circlePoint } from './build';
