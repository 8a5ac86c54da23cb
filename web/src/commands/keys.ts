/** The keys in force: those the keymap gives, with what the person changed. */
import type { OpenScene } from '../state/OpenScene';
import { settingsApi } from '../api/settingsApi';
import { useApp, type RootState } from '../state/store';
import type { ChangedKeys } from '../api/types';
import { keyLabel, keyOf } from './keymap';

const NONE: ChangedKeys = {};
const changedKeys = (s: RootState): ChangedKeys => settingsApi.endpoints.keys.select()(s).data ?? NONE;

export const keyInForce = (scene: OpenScene, id: string): string | undefined =>
  keyOf(id, changedKeys(scene.store.getState()));

/** Reads what the person changed; until then, or without a server, the keymap holds. */
export const loadKeys = (scene: OpenScene): void =>
  void scene.store.dispatch(settingsApi.endpoints.keys.initiate());

/** The cap of a command's key, kept up to date. */
export function useKeyLabel(id: string): string | undefined {
  const key = useApp((s) => keyOf(id, changedKeys(s)));
  return key && keyLabel(key);
}

/** The keys a person changed, kept up to date. */
export const useKeys = (): ChangedKeys => useApp(changedKeys);
