/** Settings of the whole workshop, through RTK Query. */
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import { SETTINGS, type SettingName, type SettingValue } from '@urnsmith/core/settings/index';

interface Saved<N extends SettingName = SettingName> {
  name: N;
  value: SettingValue<N>;
}

export const settingsApi = createApi({
  reducerPath: 'settingsApi',
  baseQuery: fetchBaseQuery({ baseUrl: '/api/settings' }),
  endpoints: (b) => ({
    setting: b.query<SettingValue<SettingName>, SettingName>({ query: (name) => `/${name}` }),
    save: b.mutation<object, Saved>({
      query: ({ name, value }) => ({ url: `/${name}`, method: 'PUT', body: value }),
      // Shown at once, and taken back should the server refuse.
      onQueryStarted({ name, value }, { dispatch, queryFulfilled }) {
        const shown = dispatch(settingsApi.util.upsertQueryData('setting', name, value));
        queryFulfilled.catch(() => {
          shown.abort();
          void dispatch(settingsApi.endpoints.setting.initiate(name, { forceRefetch: true }));
        });
      },
    }),
  }),
});

type ApiState = Parameters<ReturnType<typeof settingsApi.endpoints.setting.select>>[0];

/** A setting as far as it is known: as the server has it, or as it is before anybody sets it. */
export const settingIn = <N extends SettingName>(s: ApiState, name: N): SettingValue<N> =>
  (settingsApi.endpoints.setting.select(name)(s).data ?? SETTINGS[name].first) as SettingValue<N>;

/** Asks for a setting, for `settingIn`. */
export const askSetting = (name: SettingName) => settingsApi.endpoints.setting.initiate(name);

/** A setting, kept up to date, and how it is saved. */
export function useSetting<N extends SettingName>(
  name: N,
): { value: SettingValue<N>; save(value: SettingValue<N>): void; failed: boolean } {
  const { data } = settingsApi.useSettingQuery(name);
  const [save, { isError }] = settingsApi.useSaveMutation();
  return {
    value: (data ?? SETTINGS[name].first) as SettingValue<N>,
    save: (value) => void save({ name, value } as Saved),
    failed: isError,
  };
}
