/** The context ring: a right click puts the likeliest things around the pointer. */
import { useEffect, useRef } from 'react';
import { createPortal } from 'react-dom';
import { commandById } from '../../commands/commands';
import type { Level } from '../../state/benchSlice';
import { useApp } from '../../state/store';

const ADD = [
  'add-box',
  'add-cylinder',
  'add-tube',
  'add-sphere',
  'add-cone',
  'add-torus',
  'add-quadSphere',
  'add-plane',
];
/** What the ring offers with something in hand, by level. */
const WITH: Record<Level, string[]> = {
  piece: ['cut-subtract', 'round', 'normals', 'duplicate', 'hide', 'delete', 'isolate', 'frame'],
  face: ['edit-extrude', 'edit-inset', 'edit-bridge', 'edit-copyFaces', 'pick-grow', 'edit-remove', 'edit-detach', 'pick-flat'],
  edge: ['edit-bevel', 'edit-ringCut', 'pick-loop', 'edit-slide', 'edit-connect', 'edit-remove', 'edit-markHard', 'pick-ring'],
  point: ['edit-connect', 'edit-weldMiddle', 'edit-bevel', 'edit-slide', 'pick-grow', 'edit-remove', 'edit-flatten', 'pick-way'],
}; // prettier-ignore
/** With nothing picked at an element level. */
const BARE = ['pick-all', 'edit-knife', 'edit-ringCut', 'level-piece', 'level-face', 'level-edge', 'level-point', 'edit-planeSlice']; // prettier-ignore

const SHORT: Record<string, string> = {
  'add-quadSphere': 'Quad sphere',
  'cut-subtract': 'Cut',
  round: 'Round',
  normals: 'Normals',
  isolate: 'Isolate',
  frame: 'In view',
  hide: 'Hide',
  'edit-copyFaces': 'Duplicate',
  'edit-remove': 'Delete',
  'edit-detach': 'Take off',
  'edit-weldMiddle': 'Weld',
  'edit-markHard': 'Hard',
  'edit-planeSlice': 'Slice',
  'pick-grow': 'Grow',
  'pick-flat': 'Flat region',
  'pick-loop': 'Loop',
  'pick-ring': 'Ring',
  'pick-way': 'Way between',
  'pick-all': 'Pick all',
  'level-piece': 'Pieces',
  'level-face': 'Faces',
  'level-edge': 'Edges',
  'level-point': 'Points',
};

/** How far the ring reaches from its middle, pixels; it is kept that far inside the window. */
const REACH = { x: 164, y: 98 };
const RADIUS = { x: 104, y: 78 };

/** Where the middle goes so that the whole ring is inside the window: at the pointer, but for its edges. */
export const ringPlace = (
  at: { x: number; y: number },
  window: { width: number; height: number },
): { x: number; y: number } => ({
  x: Math.max(REACH.x, Math.min(window.width - REACH.x, at.x)),
  y: Math.max(REACH.y, Math.min(window.height - REACH.y, at.y)),
});

export function ContextRing({ at, onClose }: { at: { x: number; y: number }; onClose: () => void }) {
  const level = useApp((s) => s.bench.level);
  const any = useApp((s) => (s.bench.level === 'piece' ? s.bench.selected : s.bench.picked).length > 0);
  const ids = any ? WITH[level] : level === 'piece' ? ADD : BARE;
  const first = useRef<HTMLButtonElement>(null);
  useEffect(() => first.current?.focus(), []);
  const middle = ringPlace(at, { width: window.innerWidth, height: window.innerHeight });
  const move = (by: number): void => {
    const all = [...document.querySelectorAll<HTMLButtonElement>('.ring button:not(:disabled)')];
    const here = all.indexOf(document.activeElement as HTMLButtonElement);
    all[(here + by + all.length) % all.length]?.focus();
  };
  // Outside the stage: its pane is a world of its own, where “fixed” is told from its corner.
  return createPortal(
    <div
      className="ringVeil"
      onPointerDown={onClose}
      onContextMenu={(e) => e.preventDefault()}
      onKeyDown={(e) => {
        if (e.key === 'Escape') onClose();
        if (e.key === 'ArrowRight' || e.key === 'ArrowDown') move(1);
        if (e.key === 'ArrowLeft' || e.key === 'ArrowUp') move(-1);
      }}
    >
      <div
        className="ring"
        role="menu"
        aria-label={any ? 'With the selection' : 'Add'}
        style={{ left: middle.x, top: middle.y }}
        onPointerDown={(e) => e.stopPropagation()}
      >
        {ids.map((id, i) => {
          const a = (2 * Math.PI * i) / ids.length - Math.PI / 2;
          const c = commandById(id);
          return (
            <button
              key={id}
              ref={i === 0 ? first : undefined}
              role="menuitem"
              style={{
                transform: `translate(-50%, -50%) translate(${Math.cos(a) * RADIUS.x}px, ${Math.sin(a) * RADIUS.y}px)`,
              }}
              disabled={c.enabled ? !c.enabled() : false}
              onClick={() => {
                onClose();
                c.run();
              }}
            >
              {SHORT[id] ?? c.title.replace(/^Add /, '').replace(/^./, (x) => x.toUpperCase())}
            </button>
          );
        })}
      </div>
    </div>,
    document.body,
  );
}
