/** The Crate: what leaves the workshop, and in which format. */
import { useMemo, useState } from 'react';
import { Download, PackageCheck } from 'lucide-react';
import { idleCutters } from '@urnsmith/core/document/belonging';
import { FORMATS, WRITTEN, type Format } from '@urnsmith/core/formats/index';
import { UNITS, type Unit } from '@urnsmith/core/formats/part';
import { exportFile, HttpError } from '../../api/http';
import { livePieces, roleOf } from '../../state/selectors';
import { useApp } from '../../state/store';
import { Segmented } from '../../ui/Segmented';
import { useScene, useBuildsVersion } from '../../state/useScene';
import { CrateCheck } from './CrateCheck';
import { CrateStage } from './CrateStage';

/** A number of what will be written. */
const SUM = 'text-right font-semibold text-porcelain';

interface Done {
  name: string;
  size: number;
  counts: { points: number; faces: number; triangles: number };
}

export function CrateView() {
  const scene = useScene();
  useBuildsVersion();
  const { id } = useApp((s) => s.document);
  const pieces = useApp(livePieces);
  const solids = useMemo(() => pieces.filter((p) => roleOf(p) === 'solid'), [pieces]);
  const idle = useMemo(() => idleCutters(pieces), [pieces]);
  const [left, setLeft] = useState<ReadonlySet<string>>(
    () => new Set(solids.filter((p) => p.hidden).map((p) => p.id)),
  );
  const [format, setFormat] = useState<Format>('glb');
  const [unit, setUnit] = useState<Unit>(FORMATS.glb.unit);
  const [up, setUp] = useState<'y' | 'z'>('y');
  const [state, setState] = useState<{ busy: boolean; done?: Done; problem?: string }>({ busy: false });
  const chosen = solids.filter((p) => !left.has(p.id));
  const totals = { points: 0, faces: 0, triangles: 0 };
  for (const p of chosen) {
    const c = scene.builds.get(p.id)?.display?.counts;
    if (!c) continue;
    totals.points += c.points;
    totals.faces += c.faces;
    totals.triangles += c.triangles;
  }
  const materials = new Set(chosen.map((p) => p.color ?? '')).size;
  const run = async (): Promise<void> => {
    setState({ busy: true });
    try {
      await scene.saver.settled();
      const response = await exportFile(id, { pieces: chosen.map((p) => p.id), format, unit, up });
      const blob = await response.blob();
      const name = decodeURIComponent(
        /filename\*=UTF-8''(.+)$/.exec(response.headers.get('content-disposition') ?? '')?.[1] ??
          `scene.${format}`,
      );
      download(blob, name);
      setState({
        busy: false,
        done: {
          name,
          size: blob.size,
          counts: JSON.parse(response.headers.get('x-counts')!) as Done['counts'],
        },
      });
    } catch (e) {
      const fault = e instanceof HttpError ? e.fault : null;
      setState({ busy: false, problem: [fault?.message ?? String(e), fault?.fix].filter(Boolean).join(' ') });
    }
  };
  const does = FORMATS[format];
  return (
    <main className="grid min-h-0 grid-cols-[1fr_268px_300px]" aria-label="Crate">
      <CrateStage ids={chosen.map((p) => p.id)} />
      <section className="overflow-auto border-l border-line bg-ink-1" aria-label="Pieces to pack">
        <div className="head">
          <b>Pieces</b>
          <span className="dim">
            {chosen.length} of {solids.length}
          </span>
          <button
            className="quiet"
            onClick={() =>
              setLeft(chosen.length === solids.length ? new Set(solids.map((p) => p.id)) : new Set())
            }
          >
            {chosen.length === solids.length ? 'none' : 'all'}
          </button>
        </div>
        {idle.length > 0 && (
          <p className="pad text-ember" role="note">
            Left out: {idle.map((p) => p.name ?? p.id).join(', ')}.{' '}
            {idle.length === 1 ? 'It is a cutter that cuts nothing.' : 'They are cutters that cut nothing.'}
          </p>
        )}
        <p className="dim pad">The Crate is what leaves the workshop: what is ticked goes into the file.</p>
        <ul>
          {solids.map((p) => {
            const c = scene.builds.get(p.id)?.display?.counts;
            return (
              <li key={p.id} className="hover:bg-ink-2">
                <label className="check px-3 py-1">
                  <input
                    type="checkbox"
                    checked={!left.has(p.id)}
                    onChange={() =>
                      setLeft((l) =>
                        l.has(p.id) ? new Set([...l].filter((x) => x !== p.id)) : new Set([...l, p.id]),
                      )
                    }
                  />
                  <span className="truncate">{p.name}</span>
                  <em className="ml-auto text-[11.5px] text-ash not-italic">{c ? `${c.faces}` : '…'}</em>
                </label>
              </li>
            );
          })}
        </ul>
      </section>
      <aside
        className="card scaled relative h-full min-h-0 overflow-y-auto border-l border-line bg-ink-1 pb-2.5 contain-strict [scrollbar-width:thin]"
        aria-label="Format"
      >
        <div className="head pr-3">
          <b>Format</b>
        </div>
        <Segmented
          label="Format"
          className="wide"
          value={format}
          options={WRITTEN.map((f) => ({ value: f, label: f.toUpperCase() }))}
          onChange={(f) => {
            setFormat(f);
            setUnit(FORMATS[f].unit);
          }}
        />
        <p className="dim pad">{does.about}</p>
        <div className="field">
          <span className="lab">Unit</span>
          <Segmented
            label="Unit"
            value={unit}
            options={(Object.keys(UNITS) as Unit[]).map((u) => ({ value: u, label: u }))}
            onChange={setUnit}
          />
        </div>
        <div className="field">
          <span className="lab">Up</span>
          <Segmented
            label="Up axis"
            value={up}
            options={[
              { value: 'y', label: 'Y up' },
              { value: 'z', label: 'Z up' },
            ]}
            onChange={setUp}
          />
        </div>
        {does.up && (unit !== does.unit || up !== does.up) && (
          <p className="fault pad">
            Readers of {format.toUpperCase()} expect {does.unit} and {does.up.toUpperCase()} up.
          </p>
        )}
        <CrateCheck pieces={chosen} />
        <div className="head sub">
          <b>What will be written</b>
        </div>
        <dl className="grid grid-cols-[1fr_auto] gap-1 px-3 pb-3.5 text-mist">
          <dt>Pieces</dt>
          <dd className={SUM}>{chosen.length}</dd>
          <dt>Points</dt>
          <dd className={SUM} data-sum="points">
            {totals.points}
          </dd>
          <dt>{does.keeps.polygons ? 'Polygons' : 'Faces'}</dt>
          <dd className={SUM} data-sum="faces">
            {totals.faces}
          </dd>
          <dt>Triangles</dt>
          <dd className={SUM} data-sum="triangles">
            {totals.triangles}
          </dd>
          <dt>Materials</dt>
          <dd className={SUM}>{does.keeps.materials ? materials : '—'}</dd>
        </dl>
        <div className="pad">
          <button className="btn big" disabled={!chosen.length || state.busy} onClick={() => void run()}>
            <Download size={15} aria-hidden /> {state.busy ? 'Packing…' : `Export ${format.toUpperCase()}`}
          </button>
        </div>
        <div role="status">
          {state.done && (
            <p className="packed mx-3 text-glaze">
              <PackageCheck size={15} className="inline align-[-3px]" aria-hidden /> {state.done.name},{' '}
              {(state.done.size / 1024).toFixed(1)} KB, {state.done.counts.triangles} triangles
            </p>
          )}
        </div>
        {state.problem && (
          <p className="faultBox" role="alert">
            {state.problem}
          </p>
        )}
      </aside>
    </main>
  );
}

function download(blob: Blob, name: string): void {
  const a = document.createElement('a');
  a.href = URL.createObjectURL(blob);
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(a.href), 10000);
}
