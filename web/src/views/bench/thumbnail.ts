/** Keeps the scene's card picture up to date: a while after the last change, when nothing is being built. */
import { drawnNormals } from '../../hands/drawnNormals';
import { gradientOf } from '../../hands/gradient';
import type { OpenScene } from '../../state/OpenScene';
import { perScene } from '../../state/perScene';
import { putThumbnail } from '../../api/http';
import { scenesApi } from '../../api/scenesApi';
import type { BenchState } from '../../state/benchSlice';
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
  const { document, bench } = scene.store.getState();
  if (!scene.builds.idle || document.status !== 'ready' || !stage.canvas.isConnected) return;
  // Builds for edits, or up to a lane, do not show the finished scene.
  if (document.pieces === pictures(scene).of || bench.stage || bench.level !== 'piece') return;
  pictures(scene).of = document.pieces;
  let faces = 0;
  for (const p of document.pieces)
    if ((p.role ?? 'solid') === 'solid') faces += scene.builds.get(p.id)?.display?.counts.faces ?? 0;
  const png = await plainPicture(scene, stage);
  await putThumbnail(document.id, png, faces).catch(() => undefined);
  scene.store.dispatch(scenesApi.util.invalidateTags(['Scenes']));
}

/** Of the Bench, what a card does not show: what is chosen, in hand or hidden for a while, and other looks. */
const PLAIN: Partial<BenchState> = {
  selected: [],
  active: null,
  hovered: null,
  step: null,
  isolated: false,
  look: 'clay',
  wire: true,
  xray: false,
  drawing: null,
  cutDrawing: null,
  placing: null,
  anchoring: null,
  rimsOf: null,
  peg: null,
  gridFrame: null,
  pointedBead: null,
  pointedWarning: null,
  pointedFault: null,
};

/** The picture is drawn between two frames, so nobody sees the stage without what is selected. */
function plainPicture(scene: OpenScene, stage: Stage): Promise<Blob> {
  const s = scene.store.getState();
  const show = (state: RootState): void =>
    stage.show(
      stagePieces(state, scene.builds),
      stageSettings(state, scene.builds, gradientOf(scene), drawnNormals(scene)),
    );
  show({ ...s, bench: { ...s.bench, ...PLAIN } });
  const png = stage.picture(480, 300);
  show(s);
  stage.draw();
  return png;
}
