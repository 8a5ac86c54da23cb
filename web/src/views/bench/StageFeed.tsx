/** Keeps the stage in line with the store and the builds, and the scene's picture up to date; draws nothing itself. */
import { useEffect, useRef } from 'react';
import { livePieces } from '../../state/selectors';
import { store, useApp } from '../../state/store';
import type { Stage } from '../../viewport/Stage';
import { useBuildsVersion } from '../../scene/useScene';
import { builds } from '../../workers/builds';
import { stageUpdated } from '../../workers/measure';
import { useFollowedSelection } from './followedSelection';
import { stagePieces, stageSettings, type LastShown } from './stageContents';
import { keepThumbnail } from './thumbnail';

export function StageFeed({ stage }: { stage: Stage }) {
  const version = useBuildsVersion();
  const pieces = useApp(livePieces);
  const bench = useApp((s) => s.bench);
  const framed = useRef(false);
  const last = useRef<LastShown>(new Map());
  useFollowedSelection();
  useEffect(() => {
    const s = store.getState();
    const started = performance.now();
    stage.show(stagePieces(s, builds, last.current), stageSettings(s, builds));
    stageUpdated(performance.now() - started);
    const drawable = pieces.filter((p) => !('group' in p.base));
    if (!framed.current && drawable.length && drawable.every((p) => builds.get(p.id))) {
      framed.current = true;
      stage.rig.frame(stage.bounds());
      stage.draw();
    }
    stage.canvas.ariaBusy = String(!framed.current && drawable.length > 0);
    if (framed.current || !drawable.length) keepThumbnail(stage);
  }, [stage, version, pieces, bench]);
  return null;
}
