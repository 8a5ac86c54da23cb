/** Keeps the scene's card picture up to date: a while after the last change, when nothing is being built. */
import { putThumbnail } from '../../api/http';
import { scenesApi } from '../../api/scenesApi';
import { store } from '../../state/store';
import type { Stage } from '../../viewport/Stage';
import { builds } from '../../workers/builds';

let timer: ReturnType<typeof setTimeout> | undefined;
/** The pieces that were last pictured. */
let pictured: unknown = null;

export function keepThumbnail(stage: Stage): void {
  clearTimeout(timer);
  timer = setTimeout(() => void take(stage), 1500);
}

async function take(stage: Stage): Promise<void> {
  const { document, bench } = store.getState();
  if (!builds.idle || document.status !== 'ready' || !stage.canvas.isConnected) return;
  // Only the plain picture of a scene belongs on its card.
  if (document.pieces === pictured || bench.selected.length || bench.stage || bench.isolated) return;
  pictured = document.pieces;
  let faces = 0;
  for (const p of document.pieces)
    if ((p.role ?? 'solid') === 'solid') faces += builds.get(p.id)?.display?.counts.faces ?? 0;
  const png = await stage.picture(480, 300);
  await putThumbnail(document.id, png, faces).catch(() => undefined);
  store.dispatch(scenesApi.util.invalidateTags(['Scenes']));
}
