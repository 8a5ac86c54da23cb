/** Presets of steps: kept from the piece in hand, with the scene or for all scenes, and given to what is selected. */
import { useState } from 'react';
import { BookmarkPlus, Trash2 } from 'lucide-react';
import { lendable, type Preset } from '@urnsmith/core/document/presets';
import { counted } from '@urnsmith/core/ops/operation';
import { STEPS } from '@urnsmith/core/steps/index';
import { useSetting } from '../../api/settingsApi';
import { useScene } from '../../state/useScene';
import { forgetPreset, keepPreset, presetOf } from '../../state/presets';
import { activePiece } from '../../state/selectors';
import { useApp } from '../../state/store';
import { givePreset } from '../../state/together';
import { Box } from '../../ui/Box';
import { CheckField } from '../../ui/fields';

export function PresetsBox({ onClose }: { onClose: () => void }) {
  const scene = useScene();
  const piece = useApp(activePiece);
  const chosen = useApp((s) => s.hand.step);
  const ofScene = Object.values(useApp((s) => s.document.doc.presets));
  const { value: ofAll, save } = useSetting('presets');
  const [name, setName] = useState('');
  const [everywhere, setEverywhere] = useState(false);
  const [onlyChosen, setOnlyChosen] = useState(false);
  const open = chosen === null ? undefined : piece?.steps?.[chosen];
  const steps = open && onlyChosen ? [open] : (piece?.steps ?? []);
  const kept = steps.filter(lendable);
  const keep = (): void => {
    const preset = presetOf(name, steps, everywhere ? ofAll : ofScene);
    if (!preset) return;
    if (everywhere) save([...ofAll, preset]);
    else keepPreset(scene, preset);
    setName('');
  };
  const row = (preset: Preset, where: string, forget: () => void) => (
    <li
      key={`${where}/${preset.id}`}
      className="flex items-center gap-2 px-3.5 py-0.75"
      data-preset={preset.name}
    >
      <span className="min-w-0 flex-1">
        <b className="block truncate">{preset.name}</b>
        <span className="text-ash">
          {preset.steps.map((s) => STEPS[s.kind].title).join(' · ')}, {where}
        </span>
      </span>
      <button className="btn" onClick={() => givePreset(scene, preset) && onClose()}>
        Apply
      </button>
      <button className="quiet" aria-label={`Forget ${preset.name}`} onClick={forget}>
        <Trash2 size={13} aria-hidden />
      </button>
    </li>
  );
  return (
    <Box title="Presets of steps" onClose={onClose}>
      <form
        className="flex gap-2 px-3.5 pb-1"
        onSubmit={(e) => {
          e.preventDefault();
          keep();
        }}
      >
        <input
          className="flex-1 rounded-ui border border-line bg-ink-0 px-2.25 py-1"
          placeholder={
            kept.length
              ? `Name ${counted(kept.length, 'step')} of ${piece!.name}`
              : 'No steps here that could be kept'
          }
          aria-label="Name of a new preset"
          autoFocus
          maxLength={120}
          disabled={!kept.length}
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
          onKeyDown={(e) => e.stopPropagation()}
        />
        <button className="btn" disabled={!name.trim() || !kept.length}>
          <BookmarkPlus size={13} aria-hidden /> Keep
        </button>
      </form>
      {open && (
        <CheckField checked={onlyChosen} onChange={setOnlyChosen}>
          only the step {STEPS[open.kind].title}
        </CheckField>
      )}
      <CheckField checked={everywhere} onChange={setEverywhere}>
        for all scenes
      </CheckField>
      {kept.length < steps.length && (
        <p className="dim px-3.5">
          Left out: {counted(steps.length - kept.length, 'step')} working with other pieces, or with picks of
          this one.
        </p>
      )}
      <ul className="max-h-90 overflow-y-auto pt-1" aria-label="Presets">
        {ofScene.map((p) => row(p, 'this scene', () => void forgetPreset(scene, p)))}
        {ofAll.map((p) => row(p, 'all scenes', () => save(ofAll.filter((x) => x.id !== p.id))))}
      </ul>
      {!ofScene.length && !ofAll.length && <p className="dim px-3.5">None are kept yet.</p>}
    </Box>
  );
}
