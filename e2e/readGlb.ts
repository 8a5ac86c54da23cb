/** The contents of a GLB file, read by its specification (glTF 2.0) without the code that wrote it. */

interface Gltf {
  accessors: Array<{ bufferView: number; byteOffset?: number; componentType: number; count: number }>;
  bufferViews: Array<{ byteOffset?: number; byteStride?: number }>;
  meshes: Array<{ primitives: Array<{ attributes: { POSITION: number }; indices: number }> }>;
}

/** Volume enclosed by all triangles, and the extent of all points; nodes are taken to stand at the origin. */
export function glbMeasures(file: Buffer): { volume: number; size: [number, number, number] } {
  const jsonLength = file.readUInt32LE(12);
  const gltf = JSON.parse(file.toString('utf8', 20, 20 + jsonLength)) as Gltf;
  const bin = file.subarray(20 + jsonLength + 8);
  const start = (a: Gltf['accessors'][number]): number =>
    (gltf.bufferViews[a.bufferView].byteOffset ?? 0) + (a.byteOffset ?? 0);
  let volume = 0;
  const [low, high] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (const { attributes, indices } of gltf.meshes.flatMap((m) => m.primitives)) {
    const [points, corners] = [gltf.accessors[attributes.POSITION], gltf.accessors[indices]];
    const stride = gltf.bufferViews[points.bufferView].byteStride ?? 12;
    const at = (v: number): number[] =>
      [0, 1, 2].map((k) => bin.readFloatLE(start(points) + stride * v + 4 * k));
    const wide = corners.componentType === 5125;
    const corner = (i: number): number[] =>
      at(wide ? bin.readUInt32LE(start(corners) + 4 * i) : bin.readUInt16LE(start(corners) + 2 * i));
    for (let v = 0; v < points.count; v++)
      at(v).forEach((x, k) => {
        low[k] = Math.min(low[k], x);
        high[k] = Math.max(high[k], x);
      });
    for (let i = 0; i < corners.count; i += 3) {
      const [a, b, c] = [corner(i), corner(i + 1), corner(i + 2)];
      volume +=
        (a[0] * (b[1] * c[2] - b[2] * c[1]) -
          a[1] * (b[0] * c[2] - b[2] * c[0]) +
          a[2] * (b[0] * c[1] - b[1] * c[0])) /
        6;
    }
  }
  return { volume, size: [0, 1, 2].map((k) => high[k] - low[k]) as [number, number, number] };
}
