/** Makes the card pictures that are missing (imported and freshly laid-out scenes), one scene after another. */
import type { Piece } from '@urnsmith/core/document/schema';
import { piecesOf } from '@urnsmith/core/document/sections';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Display } from '@urnsmith/core/build/display';
import { openScene, putThumbnail } from '../../api/http';
import type { SceneCard } from '@urnsmith/core/document/scene';
import { CLAY } from '../../viewport/looks/clay';
import { Stage, type StagePiece } from '../../viewport/Stage';
import { BuildPool } from '../../workers/BuildPool';

const tried = new Set<string>();

/**
 * Starts in the background; the result stops it.
 * @param scenes those without a picture
 */
export function pictureMissing(scenes: SceneCard[], onMade: () => void): () => void {
  let stopped = false;
  const todo = scenes.filter((s) => !tried.has(s.id));
  void (async () => {
    for (const { id } of todo) {
      if (stopped) return;
      tried.add(id);
      try {
        if (await pictureOf(id)) onMade();
      } catch {
        // A scene that cannot be drawn keeps its blank card.
      }
    }
  })();
  return () => {
    stopped = true;
  };
}

async function pictureOf(id: string): Promise<boolean> {
  const pieces = piecesOf((await openScene(id)).document);
  const solids = pieces.filter((p) => !('group' in p.base) && (p.role ?? 'solid') === 'solid');
  const displays = await buildAll(pieces, solids);
  if (!displays.size) return false;
  const stage = new Stage();
  try {
    stage.resize(960, 600);
    stage.show(stagePieces(pieces, solids, displays), {
      grid: true,
      gridStep: 10,
      parallel: false,
      tool: 'select',
      handle: null,
      faults: null,
    });
    stage.rig.frame(stage.bounds(), { margin: 1.08 });
    const png = await stage.picture(480, 300);
    let faces = 0;
    for (const d of displays.values()) faces += d.counts.faces;
    await putThumbnail(id, png, faces);
    return true;
  } finally {
    stage.dispose();
  }
}

function buildAll(pieces: Piece[], wanted: Piece[]): Promise<Map<string, Display>> {
  const out = new Map<string, Display>();
  return new Promise((resolve) => {
    let left = wanted.length;
    const pool = new BuildPool(
      1,
      (id, answer) => {
        if ('display' in answer && answer.display) out.set(id, answer.display);
        if (--left) return;
        pool.close();
        resolve(out);
      },
      () => {},
    );
    if (!left) {
      pool.close();
      resolve(out);
    }
    for (const p of wanted)
      pool.request(pieces, p.id, -1, {
        cage: 'none',
        site: null,
        shown: null,
        has: [],
        whole: true,
        draft: false,
        yields: false,
      });
  });
}

function stagePieces(pieces: Piece[], solids: Piece[], displays: Map<string, Display>): StagePiece[] {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  return solids
    .filter((p) => displays.has(p.id))
    .map((p) => ({
      id: p.id,
      matrix: worldMatrix(byId, p.id),
      display: displays.get(p.id)!,
      visible: !p.hidden,
      pickable: true,
      made: null,
      shape: null,
      look: {
        ghost: false,
        wire: true,
        look: 'clay',
        xray: false,
        faint: p.faint ?? false,
        lit: 'none',
        color: p.color ?? CLAY,
      },
    }));
}
