/** Messages for screen readers besides the notices: steps of the history, slow builds, and steps that cannot act. */
import { useEffect, useRef, useState } from 'react';
import type { RootState } from '../state/store';
import { useBuildsVersion, useScene } from '../state/useScene';
import { useApp } from '../state/store';

/** A build that takes so long is told of, ms. */
const SLOW = 1500;

type Told = { undo: RootState['document']['undo']; redo: RootState['document']['redo'] };

/** The last change of the history, in words; null where it has only been opened. */
function changeOf(before: Told, now: Told): string | null {
  const [was, is] = [before.undo.at(-1), now.undo.at(-1)];
  if (was === is) return null;
  if (was && now.redo[0]?.action === was.action) return `Undone: ${was.label}`;
  if (is && before.redo[0]?.action === is.action) return `Done again: ${is.label}`;
  return is && now.undo.length > before.undo.length ? is.label : null;
}

export function Spoken() {
  const scene = useScene();
  const undo = useApp((s) => s.document.undo);
  const redo = useApp((s) => s.document.redo);
  const active = useApp((s) => s.hand.active);
  const version = useBuildsVersion();
  const [text, setText] = useState('');
  const last = useRef<Told>({ undo, redo });
  useEffect(() => {
    const said = changeOf(last.current, { undo, redo });
    last.current = { undo, redo };
    if (said) setText(said);
  }, [undo, redo]);
  const slow = useRef<ReturnType<typeof setTimeout> | null>(null);
  const fault = active
    ? scene.builds.get(active)?.display?.steps.find((s) => s.fault)?.fault?.message
    : undefined;
  const label = scene.builds.progress?.label;
  useEffect(() => {
    if (label && !slow.current) slow.current = setTimeout(() => setText(`Building: ${label}`), SLOW);
    if (label || !slow.current) return;
    clearTimeout(slow.current);
    slow.current = null;
    setText((before) => (before.startsWith('Building') ? 'Built.' : before));
  }, [label, version]);
  return (
    <div className="sr-only" role="status" aria-label="Said" data-spoken>
      {fault ? `${text} A step cannot act: ${fault}` : text}
    </div>
  );
}
