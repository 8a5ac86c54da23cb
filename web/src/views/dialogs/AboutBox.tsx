/** About this workshop: version, and what it keeps in memory with its bounds. */
import { useScene } from '../../state/useScene';
import { useEffect, useState } from 'react';
import { fetchHealth, type Health } from '../../api/http';
import { Box } from '../../ui/Box';
import { FACE_LIMIT_RANGE, faceLimit, setFaceLimit } from '../../workers/faceLimit';

/** The person's own limit on results. */
function FaceLimit() {
  const scene = useScene();
  const { minimum, maximum } = FACE_LIMIT_RANGE;
  const [text, setText] = useState(String(faceLimit()));
  const value = Number(text);
  const fits = Number.isInteger(value) && value >= minimum && value <= maximum;
  return (
    <label className="faceLimit my-2 flex items-center gap-2.5">
      Most faces a step or action may make
      <input
        className="w-24 rounded-ui border border-line bg-ink-0 px-1.75 py-0.75"
        inputMode="numeric"
        value={text}
        aria-invalid={!fits}
        onChange={(e) => setText(e.currentTarget.value)}
        onBlur={() => {
          if (!fits || value === faceLimit()) return;
          setFaceLimit(value);
          scene.builds.restart();
        }}
      />
      {!fits && (
        <span className="text-ember" role="alert">
          A whole number from {minimum} to {maximum}.
        </span>
      )}
    </label>
  );
}

const MB = 1024 * 1024;
const mb = (n: number): string => `${(n / MB).toFixed(n < 10 * MB ? 1 : 0)} MB`;

export function AboutBox({ onClose }: { onClose: () => void }) {
  const scene = useScene();
  const [health, setHealth] = useState<Health | null>(null);
  useEffect(() => {
    let live = true;
    fetchHealth().then(
      (h) => live && setHealth(h),
      () => {},
    );
    return () => void (live = false);
  }, []);
  const { bytes, pieces } = scene.builds.memory();
  const documents = health?.memory.documents;
  return (
    <Box title="About" onClose={onClose}>
      <div className="px-3.5 pb-1.5">
        <p className="mt-1 mb-2.5">
          <b>Urnsmith</b> 0.1 — polygon modelling for hard-surface work.
        </p>
        <p className="memory mt-1 mb-2.5 leading-[1.5] text-mist">
          <b>Memory</b> this page {mb(bytes)} for {pieces} built pieces
          {health && documents ? (
            <>
              <br />
              server {mb(health.memory.process)}, of it {documents.documents} open documents with{' '}
              {mb(documents.characters)} of at most {mb(documents.limit)}
              <br />
              jobs: {health.memory.jobs.running} running, {health.memory.jobs.waiting} waiting
            </>
          ) : (
            '; the server does not answer'
          )}
        </p>
        <FaceLimit />
      </div>
    </Box>
  );
}
