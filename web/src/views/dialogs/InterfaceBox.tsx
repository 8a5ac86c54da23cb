/** The interface as a person likes it on this computer. */
import { chooseInterface, SCALES, THEMES, useInterface } from '../../ui/interface';
import { Box } from '../../ui/Box';
import { Segmented } from '../../ui/Segmented';

const THEME_WORDS = { system: 'As the system', dark: 'Dark', light: 'Light' };

export function InterfaceBox({ onClose }: { onClose: () => void }) {
  const { theme, scale, scroll } = useInterface();
  return (
    <Box title="Interface" onClose={onClose}>
      <div className="grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-2.5 px-3.5 pb-2">
        <span className="lab">Theme</span>
        <Segmented
          label="Theme"
          value={theme}
          options={THEMES.map((value) => ({ value, label: THEME_WORDS[value] }))}
          onChange={(v) => chooseInterface({ theme: v })}
        />
        <span className="lab">Size</span>
        <Segmented
          label="Size"
          value={String(scale)}
          options={SCALES.map((s) => ({ value: String(s), label: `${s}%` }))}
          onChange={(v) => chooseInterface({ scale: SCALES.find((s) => String(s) === v) })}
        />
        <span className="lab">Scrolling on the stage</span>
        <Segmented
          label="Scrolling on the stage"
          value={scroll}
          options={[
            { value: 'zoom', label: 'Zooms', hint: 'For a mouse with a wheel' },
            { value: 'turn', label: 'Turns the view', hint: 'For two fingers on a trackpad' },
          ]}
          onChange={(v) => chooseInterface({ scroll: v })}
        />
        <p className="dim col-span-2">
          Pinching always zooms, and with Shift scrolling shifts the view. On a touch screen two fingers turn,
          pinch and zoom; one finger or a pen is the hand. The stage stays dark in both themes, so that a
          model always looks the same.
        </p>
      </div>
    </Box>
  );
}
