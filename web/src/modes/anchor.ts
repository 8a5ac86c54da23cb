/** Anchoring a cutter: a click on its host says what it holds to. */
import { Matrix4 } from 'three';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { invert } from '@urnsmith/core/mesh/transform';
import { notice } from '../state/actions';
import { anchorAt, endAnchoring, takeAnchoring } from '../state/anchors';
import { piecesById } from '../state/selectors';
import { defineMode, somePiece } from './define';

/** An edge or a corner this near to the pointer is what a cutter is anchored to, pixels. */
const NEAR = 8;

export const anchor = defineMode<'anchor'>({
  is: 'anchor',
  title: 'Anchor',
  commands: [
    {
      id: 'anchor-distance',
      title: 'Anchor a cutter: hold its distance from a face',
      short: 'Hold a distance',
      words: 'constrain lock dimension offset margin keep',
      group: 'Build',
      enabled: somePiece,
      run: (scene) => takeAnchoring(scene, 'distance'),
    },
    {
      id: 'anchor-middle',
      title: 'Anchor a cutter: stay in the middle of two faces',
      short: 'Middle of two',
      words: 'constrain centre symmetric between dimension',
      group: 'Build',
      enabled: somePiece,
      run: (scene) => takeAnchoring(scene, 'middle'),
    },
    {
      id: 'anchor-centre',
      title: 'Anchor a cutter: stay in the centre of a face',
      short: 'Centre of a face',
      words: 'constrain middle center dimension',
      group: 'Build',
      enabled: somePiece,
      run: (scene) => takeAnchoring(scene, 'centre'),
    },
  ],
  help: [
    ['click', 'a face of the host'],
    ['Esc', 'cancel'],
  ],
  keys: { Escape: endAnchoring },
  lasts: (mode, now) => now.active === mode.piece,
  press(scene, { stage, x, y }) {
    const s = scene.store.getState();
    const byId = piecesById(s);
    const cutter = s.hand.active === null ? undefined : byId.get(s.hand.active);
    const host = byId.get(cutter?.parent ?? '');
    const ghosts = new Set([...byId.values()].filter((p) => p.role === 'cutter').map((p) => p.id));
    const hit = stage.pick(x, y, ghosts);
    if (!host || hit?.piece !== host.id) {
      notice(scene, `Click a face of ${host?.name ?? 'the piece it cuts'}.`, false, 'problem');
      return 'click';
    }
    const back = new Matrix4().fromArray(invert(worldMatrix(byId, host.id)));
    const reach = NEAR * stage.rig.pixelSize(hit.point) * back.getMaxScaleOnAxis();
    void anchorAt(scene, hit.point.applyMatrix4(back).toArray(), reach);
    return 'click';
  },
});
