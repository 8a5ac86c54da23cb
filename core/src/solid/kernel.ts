/** Loading of the boolean kernel (manifold-3d, WebAssembly). Load once per thread before any cut. */
import Module from 'manifold-3d';
import type { Manifold, ManifoldToplevel, Mesh } from 'manifold-3d';

export type { Manifold, Mesh };
let loaded: ManifoldToplevel | null = null;
let loading: Promise<ManifoldToplevel> | null = null;

/**
 * Loads the kernel. In Node it finds its own binary; in a browser pass the URL the bundler gave it.
 */
export function loadKernel(wasmUrl?: string): Promise<ManifoldToplevel> {
  loading ??= Module(wasmUrl ? { locateFile: () => wasmUrl } : undefined).then((m) => {
    m.setup();
    return (loaded = m);
  });
  return loading;
}

/** The kernel, which must have been loaded. */
export function kernel(): ManifoldToplevel {
  if (!loaded) throw new Error('The boolean kernel is not loaded: await loadKernel() first.');
  return loaded;
}

export const kernelReady = (): boolean => loaded !== null;
