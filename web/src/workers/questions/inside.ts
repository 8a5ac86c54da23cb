/** Elements inside an outline on the screen. */
import { insideOutline, type Look, type ScreenOutline } from '@urnsmith/core/select/inside';
import type { ElementKind } from '@urnsmith/core/select/selection';
import { defineQuestion, type Selected } from './define';

interface Inside {
  of: ElementKind;
  outline: ScreenOutline;
  look: Look;
  through: boolean;
}

export const inside = defineQuestion(
  'inside',
  ({ of, outline, look, through }: Inside, { mesh }): Selected => ({
    selection: insideOutline(mesh, of, outline, look, through),
  }),
);
