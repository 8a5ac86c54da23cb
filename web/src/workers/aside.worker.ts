/** Works out what no hand waits for: builders hand it the meshes they made, over ports of their own. */
import * as Comlink from 'comlink';
import { replyAside } from './questions/aside';

const aside = { reply: replyAside };
export type Aside = typeof aside;

Comlink.expose({
  connect(port: MessagePort): void {
    Comlink.expose(aside, port);
  },
});
