/** Module state per open scene, made on first use and gone with the scene. */
import type { OpenScene } from './OpenScene';

export function perScene<T>(make: (scene: OpenScene) => T): (scene: OpenScene) => T {
  const of = new WeakMap<OpenScene, T>();
  return (scene) => {
    let own = of.get(scene);
    if (!own) of.set(scene, (own = make(scene)));
    return own;
  };
}
