/** What a module remembers of an open scene, made when it is first asked for and gone with the scene. */
import type { OpenScene } from './OpenScene';

export function perScene<T>(make: (scene: OpenScene) => T): (scene: OpenScene) => T {
  const of = new WeakMap<OpenScene, T>();
  return (scene) => {
    let own = of.get(scene);
    if (!own) of.set(scene, (own = make(scene)));
    return own;
  };
}
