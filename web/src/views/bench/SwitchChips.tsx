/** Switches that change what the hand does without being seen otherwise; a click ends one. */
import { X } from 'lucide-react';
import { formatNumber } from '@urnsmith/core/document/expression';
import { viewActions } from '../../state/viewSlice';
import { settingActions } from '../../state/settingSlice';
import type { ElementSettings } from '../../state/elementSettings';
import { useAct, useApp } from '../../state/store';

export function SwitchChips() {
  const act = useAct();
  const { level, tool } = useApp((s) => s.hand);
  const { snap, elements } = useApp((s) => s.settings);
  const isolated = useApp((s) => s.view.isolated);
  const { turns, soft, brush, brushSize, reach, through, symmetry, ranks } = elements;
  const onElements = level !== 'piece';
  const set = (to: Partial<ElementSettings>) => (): void => void act(settingActions.elementSettings(to));
  const chips: Array<[on: boolean, text: string, end: () => void]> = [
    [snap, 'snapping', () => act(settingActions.snapSwitched())],
    [isolated, 'others hidden', () => act(viewActions.switched('isolated'))],
    [
      onElements && soft,
      `soft, ${brush ? `${brushSize} px` : `${formatNumber(reach)} mm`}`,
      set({ soft: false }),
    ],
    [onElements && tool === 'turn' && turns === 'shading', 'turns the shading', set({ turns: 'elements' })],
    [onElements && through, 'picks through', set({ through: false })],
    [onElements && symmetry !== 'none', `symmetry ${symmetry}`, set({ symmetry: 'none' })],
    [level === 'face' && ranks, 'tinted: gold leads, blue follows', set({ ranks: false })],
  ];
  const shown = chips.filter(([on]) => on);
  if (!shown.length) return null;
  return (
    <div className="flex flex-wrap gap-1" role="group" aria-label="Switched on">
      {shown.map(([, text, end]) => (
        <button
          key={text}
          className="switched gap-1 rounded-full border border-cream/60 bg-ink-0/84 px-2 py-0.25 text-[11.5px] text-cream"
          title="Switch off"
          onClick={end}
        >
          {text}
          <X size={11} aria-hidden />
        </button>
      ))}
    </div>
  );
}
