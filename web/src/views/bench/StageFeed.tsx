/** Keeps the stage in line with the store and the builds, and the scene's picture up to date; draws nothing itself. */
import { useEffect, useRef } from 'react';
import { createSelector } from '@reduxjs/toolkit';
import { drawnNormals } from '../../hands/drawnNormals';
import { gradientOf } from '../../hands/gradient';
import { livePieces } from '../../state/selectors';
import { useApp, type RootState } from '../../state/store';
import type { Stage } from '../../viewport/Stage';
import { useBuildsVersion, useScene } from '../../state/useScene';
import { stageUpdated } from '../../app/measure';
import { stagePieces, stageSettings, type LastShown } from './stageContents';
import { keepThumbnail } from './thumbnail';

/**
 * The parts of the store that the stage shows, besides the pieces; the same object as long as none of them changes.
 */
const shownOnStage = createSelector(
  (s: RootState) => s.hand,
  (s: RootState) => s.hints,
  (s: RootState) => s.view,
  (s: RootState) => s.settings,
  (...all) => all,
);

export function StageFeed({ stage }: { stage: Stage }) {
  const scene = useScene();
  const version = useBuildsVersion();
  const pieces = useApp(livePieces);
  const shown = useApp(shownOnStage);
  const framed = useRef(false);
  const last = useRef<LastShown>(new Map());
  useEffect(() => {
    const s = scene.store.getState();
    const started = performance.now();
    stage.show(
      stagePieces(s, scene.builds, last.current),
      stageSettings(s, scene.builds, gradientOf(scene), drawnNormals(scene)),
    );
    stageUpdated(performance.now() - started);
    const drawable = pieces.filter((p) => !('group' in p.base));
    if (!framed.current && drawable.length && drawable.every((p) => scene.builds.get(p.id))) {
      framed.current = true;
      stage.bringIntoView(stage.bounds());
      stage.draw();
    }
    stage.setBusy(!framed.current && drawable.length > 0);
    if (framed.current || !drawable.length) keepThumbnail(scene, stage);
  }, [scene, stage, version, pieces, shown]);
  return null;
}
