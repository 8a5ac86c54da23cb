/** Command search: what people type finds what they mean, first; and the ring stays inside the window. */
import { describe, expect, it } from 'vitest';
import { COMMANDS } from '../src/commands/commands';
import { found, rank } from '../src/commands/find';
import { CASING } from '../src/viewport/WideLines';
import { INK } from '../src/viewport/CageView';
import { CLAY } from '../src/viewport/looks/clay';
import { DRIFT_STOPS } from '../src/viewport/looks/drift';
import { ringPlace } from '../src/views/bench/ContextRing';

const titles = (typed: string): string[] => found(COMMANDS, typed).map((c) => c.title);

describe('command search', () => {
  const expected: Array<[string, string]> = [
    ['ro', 'Round edges'],
    ['round', 'Round edges'],
    ['mirror', 'Mirror, live'],
    ['export', 'Export from the Crate'],
    ['glb', 'Export from the Crate'],
    ['circle', 'Add disc'],
    ['cube', 'Add box'],
    ['boolean', 'Cut: subtract the others from the last selected'],
    ['fillet', 'Round edges'],
    ['copy', 'Duplicate'],
    ['weld', 'Weld near points'],
    ['merge vert', 'Weld near points'],
    ['flip', 'Turn over'],
    ['ortho', 'Parallel or perspective view'],
    ['milestone', 'History and milestones'],
    ['knife', 'Knife'],
    ['pick loop', 'Pick along the loop'],
  ];
  for (const [typed, title] of expected)
    it(`“${typed}” finds ${title} first`, () => expect(titles(typed)[0]).toBe(title));

  it('understands the everyday words of the trade', () => {
    // Each word, and the command that has to be among the first three.
    const words: Record<string, string> = {
      rotate: 'Turn', spin: 'Turn', scale: 'Resize', stretch: 'Resize', translate: 'Move', grab: 'Move',
      hollow: 'Thicken once', thickness: 'Thicken once',
      symmetry: 'Mirror, live', reflect: 'Mirror, live', array: 'Repeat, live', pattern: 'Repeat, live', linear: 'Repeat, live',
      fillet: 'Round edges', bevel: 'Bevel', chamfer: 'Chamfer, live', soften: 'Round edges',
      drill: 'Place holes on faces', bore: 'Place holes on faces', pocket: 'Draw a cut on a face', sketch: 'Draw a cut on a face',
      difference: 'Cut: subtract the others from the last selected', combine: 'Join pieces into one, shells as they are',
      section: 'Slice by a stroke across the piece',
      shortcuts: 'Keys: see and change them', hotkeys: 'Keys: see and change them', help: 'Keys: see and change them',
      tutorial: 'About Urnsmith and its memory', settings: 'Interface: theme, size, scrolling', dark: 'Interface: theme, size, scrolling',
      orthographic: 'Parallel or perspective view', wireframe: 'Wire on or off', topology: 'Wire on or off', xray: 'X-ray on or off',
      top: 'Look from above', bottom: 'Look from below', magnet: 'Snapping on or off',
      clone: 'Duplicate', instance: 'Duplicate as twins, which share base and build', remove: 'Delete', erase: 'Delete',
      folder: 'Group', nest: 'Group', visibility: 'Hide or show', unhide: 'Hide or show', solo: 'Isolate the selection',
      none: 'Select nothing', deselect: 'Select nothing', everything: 'Select all', freeze: 'Lock or unlock',
      attach: 'Join pieces into one, shells as they are', detach: 'Take faces off as a new piece', origin: 'Set the peg on the picked elements or the face under the pointer',
      engrave: 'Add text', font: 'Add text', hexagon: 'Add prism', keyway: 'Add slot', pad: 'Add plate', ball: 'Add sphere', pipe: 'Add cylinder',
      mount: 'Seat on a face', drop: 'Seat on a face', constrain: 'Anchor a cutter: hold its distance from a face',
      subdivision: 'Smooth preview on or off', glb: 'Export from the Crate', download: 'Export from the Crate', versions: 'History and milestones',
      forward: 'Redo', revert: 'Undo', ao: 'Bent normals and openness', loft: 'Bridge', distribute: 'Space evenly', circular: 'Make round',
    };
    const missed = Object.entries(words).filter(([word, title]) => !titles(word).slice(0, 3).includes(title));
    expect(missed).toEqual([]);
    for (const [wrong, title] of [['mirorr', 'Mirror, live'], ['rotaet', 'Turn'], ['chamfr', 'Chamfer, live'], ['duplicatte', 'Duplicate'], ['fillt', 'Round edges']])
      expect([wrong, titles(wrong).slice(0, 3)]).toEqual([wrong, expect.arrayContaining([title])]);
  }); // prettier-ignore

  it('finds every command by its whole name, from any level, and says nothing to noise', () => {
    for (const c of COMMANDS.filter((x) => x.id !== 'search'))
      expect([c.id, titles(c.title).includes(c.title)]).toEqual([c.id, true]);
    for (const noise of ['xyzzy', 'ound', 'q9', 'tor round']) expect([noise, titles(noise).length]).toEqual([noise, 0]); // prettier-ignore
    expect(titles('')).toHaveLength(COMMANDS.length);
    // A name counts more than another word for it.
    expect(rank({ title: 'Smooth' }, 'smo')).toBeGreaterThan(rank({ title: 'N', words: 'smooth' }, 'smo'));
  });
});

describe('the context ring', () => {
  it('opens at the pointer, but never out of the window', () => {
    const size = { width: 1280, height: 800 };
    expect(ringPlace({ x: 640, y: 400 }, size)).toEqual({ x: 640, y: 400 });
    for (const at of [
      { x: 0, y: 0 },
      { x: 1280, y: 800 },
      { x: 3, y: 790 },
      { x: 1279, y: 1 },
    ]) {
      const { x, y } = ringPlace(at, size);
      expect([x - 164 >= 0, x + 164 <= 1280, y - 98 >= 0, y + 98 <= 800]).toEqual([true, true, true, true]);
    }
  });
});

describe('picked and pointed edges', () => {
  /** WCAG 2.2, relative luminance and contrast. */
  const luminance = (hex: string): number => {
    const [r, g, b] = [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16) / 255).map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4)); // prettier-ignore
    return 0.2126 * r + 0.7152 * g + 0.0722 * b;
  };
  const contrast = (a: string, b: string): number => {
    const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p);
    return (x + 0.05) / (y + 0.05);
  };
  it('stand out 3 to 1 on any colour: by their dark edge on light ones, by themselves on dark ones', () => {
    for (const ink of [INK.picked, INK.pointed]) {
      expect(contrast(ink, CASING)).toBeGreaterThan(3);
      const grey = Array.from(
        { length: 52 },
        (_, k) => `#${(5 * k).toString(16).padStart(2, '0').repeat(3)}`,
      );
      for (const surface of [CLAY, ...DRIFT_STOPS.map(([, c]) => c), ...grey])
        expect([surface, Math.max(contrast(ink, surface), contrast(CASING, surface)) >= 3]).toEqual([
          surface,
          true,
        ]);
    }
  });
});
