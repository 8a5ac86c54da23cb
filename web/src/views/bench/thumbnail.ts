/** Keeps the scene's card picture up to date: a while after the last change, when nothing is being built. */
import { drawnNormals } from '../../hands/drawnNormals';
import { gradientOf } from '../../hands/gradient';
import type { OpenScene } from '../../state/OpenScene';
import { perScene } from '../../state/perScene';
import { putThumbnail } from '../../api/http';
import { scenesApi } from '../../api/scenesApi';
import type { RootState } from '../../state/store';
import type { Stage } from '../../viewport/Stage';
import { stagePieces, stageSettings } from './stageContents';

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
  const { document, hand, view } = scene.store.getState();
  if (!scene.builds.idle || document.status !== 'ready' || !stage.canvas.isConnected) return;
  // Builds for edits, or up to a lane, do not show the finished scene.
  if (document.pieces === pictures(scene).of || view.stage || hand.level !== 'piece') return;
  pictures(scene).of = document.pieces;
  let faces = 0;
  for (const p of document.pieces)
    if ((p.role ?? 'solid') === 'solid') faces += scene.builds.get(p.id)?.display?.counts.faces ?? 0;
  const png = await plainPicture(scene, stage);
  await putThumbnail(document.id, png, faces).catch(() => undefined);
  scene.store.dispatch(scenesApi.util.invalidateTags(['Scenes']));
}

/** The store without what a card does not show: what is chosen, in hand or hidden for a while, and other looks. */
const plain = (s: RootState): RootState => ({
  ...s,
  hand: { ...s.hand, selected: [], active: null, step: null, mode: null },
  hints: { ...s.hints, hovered: null, bead: null, warning: null, fault: null },
  view: {
    ...s.view,
    isolated: false,
    look: 'clay',
    wire: true,
    xray: false,
    peg: null,
    gridFrame: null,
  },
});

/** The picture is drawn between two frames, so nobody sees the stage without what is selected. */
function plainPicture(scene: OpenScene, stage: Stage): Promise<Blob> {
  const s = scene.store.getState();
  const show = (state: RootState): void =>
    stage.show(
      stagePieces(state, scene.builds),
      stageSettings(state, scene.builds, gradientOf(scene), drawnNormals(scene)),
    );
  show(plain(s));
  const png = stage.picture(480, 300);
  show(s);
  stage.draw();
  return png;
}
