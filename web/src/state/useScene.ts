/** The open scene, for components; and the hooks on what is built of it. */
import { createContext, useContext, useSyncExternalStore } from 'react';
import type { Progress } from '../workers/BuildPool';
import type { Built } from '../workers/builds';
import type { OpenScene } from './OpenScene';

const Scene = createContext<OpenScene | null>(null);
export const SceneContext = Scene.Provider;

export function useScene(): OpenScene {
  const scene = useContext(Scene);
  if (!scene) throw new Error('No scene is open around this.');
  return scene;
}

/** Re-renders whenever any build changed. */
export function useBuildsVersion(): number {
  const { builds } = useScene();
  return useSyncExternalStore(builds.subscribe, () => builds.version);
}

/** Progress of a slow build. */
export function useProgress(): Progress | null {
  const { builds } = useScene();
  return useSyncExternalStore(builds.subscribe, () => builds.progress);
}

/** The build of one piece. */
export function useBuilt(id: string | null): Built | undefined {
  const { builds } = useScene();
  return useSyncExternalStore(builds.subscribe, () => (id ? builds.get(id) : undefined));
}
