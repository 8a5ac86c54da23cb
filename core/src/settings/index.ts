/** All settings of the workshop. A new one is a file beside these and a line in this list. */
import { keys } from './keys';
import { presets } from './presets';

const ALL = [keys, presets] as const;

type Kinds = (typeof ALL)[number];
export type SettingName = Kinds['name'];
export type SettingValue<N extends SettingName> = Extract<Kinds, { name: N }>['first'];

export const SETTINGS = Object.fromEntries(ALL.map((s) => [s.name, s])) as unknown as {
  readonly [N in SettingName]: Extract<Kinds, { name: N }>;
};
