/** The context ring: a right click puts the likeliest things around the pointer. */
import { useEffect, useRef } from 'react';
import { commandById } from '../../commands/commands';
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
const PIECE = ['cut-subtract', 'round', 'normals', 'duplicate', 'hide', 'delete', 'isolate', 'frame'];
const SHORT: Record<string, string> = {
  'add-quadSphere': 'Quad sphere',
  'cut-subtract': 'Cut',
  round: 'Round',
  normals: 'Normals',
  isolate: 'Isolate',
  frame: 'Frame',
  hide: 'Hide',
};

export function ContextRing({ at, onClose }: { at: { x: number; y: number }; onClose: () => void }) {
  const any = useApp((s) => s.bench.selected.length > 0);
  const ids = any ? PIECE : ADD;
  const first = useRef<HTMLButtonElement>(null);
  useEffect(() => first.current?.focus(), []);
  return (
    <div
      className="ringVeil"
      onPointerDown={onClose}
      onContextMenu={(e) => e.preventDefault()}
      onKeyDown={(e) => e.key === 'Escape' && onClose()}
    >
      <div
        className="ring"
        role="menu"
        aria-label={any ? 'With the selection' : 'Add'}
        style={{ left: at.x, top: at.y }}
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
                transform: `translate(-50%, -50%) translate(${Math.cos(a) * 104}px, ${Math.sin(a) * 78}px)`,
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
    </div>
  );
}
