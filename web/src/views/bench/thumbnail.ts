/** Keeps the scene's card picture up to date: a while after the last change, when nothing is being built. */
import type { OpenScene } from '../../scene/OpenScene';
import { perScene } from '../../scene/perScene';
import { putThumbnail } from '../../api/http';
import { scenesApi } from '../../api/scenesApi';
import type { Stage } from '../../viewport/Stage';

interface Pictures {
  timer?: ReturnType<typeof setTimeout>;
  /** The pieces that were last pictured. */
  of: unknown;
}
const pictures = perScene((): Pictures => ({ of: null }));

export function keepThumbnail(scene: OpenScene, stage: Stage): void {
  const own = pictures(scene);
  clearTimeout(own.timer);
  own.timer = setTimeout(() => void take(scene, stage), 1500);
}

async function take(scene: OpenScene, stage: Stage): Promise<void> {
  const { document, bench } = scene.store.getState();
  if (!scene.builds.idle || document.status !== 'ready' || !stage.canvas.isConnected) return;
  // Only the plain picture of a scene belongs on its card.
  if (document.pieces === pictures(scene).of || bench.selected.length || bench.stage || bench.isolated)
    return;
  pictures(scene).of = document.pieces;
  let faces = 0;
  for (const p of document.pieces)
    if ((p.role ?? 'solid') === 'solid') faces += scene.builds.get(p.id)?.display?.counts.faces ?? 0;
  const png = await stage.picture(480, 300);
  await putThumbnail(document.id, png, faces).catch(() => undefined);
  scene.store.dispatch(scenesApi.util.invalidateTags(['Scenes']));
}
