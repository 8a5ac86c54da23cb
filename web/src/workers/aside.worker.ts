/** Works out and keeps what no hand waits for: builders hand it the meshes they made, over ports of their own. */
import * as Comlink from 'comlink';
import { buffersOf } from '@urnsmith/core/build/display';
import { LastDisplays, type DisplayList } from './LastDisplays';
import { replyAside } from './questions/aside';

const forBuilders = { reply: replyAside };
export type Aside = typeof forBuilders;

const displays = new LastDisplays();
const forThePage = {
  connect(port: MessagePort): void {
    Comlink.expose(forBuilders, port);
  },
  keepDisplays: (scene: string, key: string, list: DisplayList): Promise<void> =>
    displays.keep(scene, key, list).catch(() => {}),
  async lastDisplays(scene: string, key: string): Promise<DisplayList> {
    const list = await displays.of(scene, key);
    const buffers = new Set(list.flatMap(([, d]) => buffersOf(d)));
    return Comlink.transfer(list, [...buffers]);
  },
};
export type AsideOfPage = typeof forThePage;

Comlink.expose(forThePage);
