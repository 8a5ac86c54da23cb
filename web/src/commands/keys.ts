/** The keys in force: those the keymap gives, with what the person changed. */
import type { OpenScene } from '../state/OpenScene';
import { askSetting, settingIn } from '../api/settingsApi';
import { useApp, type RootState } from '../state/store';
import type { ChangedKeys } from '@urnsmith/core/settings/keys';
import { keyLabel, keyOf } from './keymap';

const changedKeys = (s: RootState): ChangedKeys => settingIn(s, 'keys');

export const keyInForce = (scene: OpenScene, id: string): string | undefined =>
  keyOf(id, changedKeys(scene.store.getState()));

/** Reads what the person changed; until then, or without a server, the keymap holds. */
export const loadKeys = (scene: OpenScene): void => void scene.store.dispatch(askSetting('keys'));

/** The cap of a command's key, kept up to date. */
export function useKeyLabel(id: string): string | undefined {
  const key = useApp((s) => keyOf(id, changedKeys(s)));
  return key && keyLabel(key);
}

/** The keys a person changed, kept up to date. */
export const useKeys = (): ChangedKeys => useApp(changedKeys);
