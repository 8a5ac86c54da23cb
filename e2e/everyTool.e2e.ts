/**
 * Every tool in the tray, at every level, pressed on picks a person would make: on one of them it acts, under the name
 * it is known by, and one undo takes it back; on the others it says why not, in a sentence, and changes nothing.
 */
import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench } from './atBench';
import { answered, asked } from './inPage';
import { LAYERS } from './onBench';

const { browser, on, h } = await atBench();
const { driver } = browser;

/** The name of the action on the Card, where it differs from the tool's title. */
const LEAVES: Record<string, string> = {
  'Extrude each face': 'Extrude',
  'Extrude along the peg': 'Extrude',
  'Inset each face': 'Inset',
  'Flatten onto the view': 'Flatten',
  'Weld near points': 'Weld',
  'Weld at the middle': 'Weld',
  'Fill with a grid': 'Fill',
  'Mark edges hard': 'Mark edges',
  'Crease along the edges': 'Mark edges',
  'Seam along the edges': 'Mark edges',
  'Mark edges to be rounded at half the width': 'Mark edges',
  'Clear hard marks': 'Mark edges',
  'Let the faces lead shading': 'Rank for shading',
  'Let the faces follow in shading': 'Rank for shading',
  'Let the faces count plainly in shading': 'Rank for shading',
  'Mark all edges over an angle': 'Mark edges',
  Slide: 'Slide',
  'Shade each face flat': 'Hold normals',
  'Shade the faces as one plane': 'Hold normals',
  'Smooth the shading': 'Hold normals',
  "Shade along the peg's axis": 'Hold normals',
  'Release held normals': 'Hold normals',
  'Weigh the faces for shading': 'Weigh for shading',
  'Let the faces count by their area again': 'Weigh for shading',
  'Even out the shading where pieces meet': 'Hold normals',
  "Turn the shading about the peg's axis": 'Hold normals',
  'Mirror the shading': 'Hold normals',
  'Blend toward the shading without holds': 'Hold normals',
};
/** Tools that are taken in hand instead, and how the line of help names them. */
const HELD: Record<string, string> = {
  Knife: 'Knife',
  'Ring cut': 'Ring cut',
  'Slice by a stroke across the piece': 'Slice',
  'Draw a face point by point': 'Draw a face',
};
/** This tool needs another piece in hand; `normalsByHand` tries it. */
const NEEDS_ANOTHER = 'Cast the shading from another piece in hand';
/** By level, what tools of one name do there. */
const AT: Record<string, Record<string, string>> = {
  face: { 'Delete faces; of edges and points, join the faces around': 'Delete faces' },
  edge: { Extrude: 'Extrude edges', 'Delete faces; of edges and points, join the faces around': 'Dissolve' },
  point: { Bevel: 'Bevel points', 'Delete faces; of edges and points, join the faces around': 'Dissolve' },
};

const slab: Piece = {
  id: 'slab',
  name: 'Slab',
  base: { primitive: 'box', width: 60, height: 10, depth: 60, segments: [3, 1, 3] },
};
const sheet: Piece = {
  id: 'sheet',
  name: 'Sheet',
  base: { primitive: 'plane', width: 60, depth: 60, segments: [3, 3] },
};
/** The sheet with a hole in its middle, and in triangles. */
const holed: Piece = {
  ...sheet,
  id: 'holed',
  name: 'Holed',
  actions: [{ op: 'deleteFaces', select: { faces: [4] } }],
};
const triangles: Piece = {
  ...sheet,
  id: 'triangles',
  name: 'Triangles',
  actions: [{ op: 'triangulate', select: { rule: 'all', of: 'faces' } }],
};

/** In two strips that face each other, with points of their own where they touch a third. */
const parted: Piece = {
  ...sheet,
  id: 'parted',
  name: 'Parted',
  actions: [
    { op: 'splitApart', select: { faces: [0] } },
    { op: 'deleteFaces', select: { rule: 'within', of: 'faces', min: [-9, -1, -40], max: [9, 1, 40] } },
  ],
};

type Place = [number, number];
/** Places clicked on from above, mm; nothing stands for everything. */
const PICKS: Record<'face' | 'edge' | 'point', Array<Place[]>> = {
  face: [[[0, 0]], [[20, 20]], [[-20, -20], [20, 20]], []], // prettier-ignore
  edge: [[[10, 0]], [[30, 0]], [[-10, 0], [10, 0]], [[10, -20], [10, 0], [10, 20]], [[10, 0], [-10, 0], [0, 10], [0, -10]], []], // prettier-ignore
  point: [[[10, 10]], [[10, 10], [-10, -10]], [[10, -10], [10, 10]], [[-30, 10], [-10, 10], [10, 10]], [[10, 10], [-10, 10], [10, -10], [-10, -10]], []], // prettier-ignore
};
const KEY = { face: '8', edge: '9', point: '0' } as const;

const PIECES = [slab, sheet, holed, triangles, parted];

let s = 1;
/** All pieces at the Bench, seen square-on from above; they are as large, so one is measured for all. */
async function open(): Promise<void> {
  const apart = PIECES.map((piece, k): Piece => ({ ...piece, transform: { move: [400 * k, 0, 0] } }));
  await on.open('Every tool', apart);
  await h.until('the last', async () => /\d/.test(await h.text(`.rows [data-name="${parted.name}"] em`)));
  await h.pick(slab.name!);
  await on.key('5');
  await on.key('p');
  await on.key('n');
  await h.rest();
  s = await on.scaleFrom(30);
}

/** A piece in hand, in view. */
async function take(piece: Piece, level: keyof typeof KEY): Promise<void> {
  await on.key('7');
  await h.pick(piece.name!);
  await on.key('n');
  await h.rest();
  await on.key(KEY[level]);
  await on.untilCounts('0 of');
}

async function pick(places: Place[]): Promise<void> {
  if (!places.length) {
    await on.key(Key.CONTROL, 'a');
    await on.untilCounts(' of');
    return;
  }
  for (const [k, [x, z]] of places.entries()) await on.clickAt(x * s, z * s, ...(k ? [Key.SHIFT] : []));
  await on.untilCounts(`${places.length} of`);
}

/** Back at the level, whatever the tool before left picked there. */
async function nothingPicked(level: keyof typeof KEY): Promise<void> {
  await on.key(KEY[level]);
  await h.until(`${level} level`, async () => (await on.counts()).endsWith(` ${level}s`));
  await h.rest();
  // Escape with nothing picked would leave the level.
  if (!(await on.counts()).startsWith('0 of')) await on.key(Key.ESCAPE);
  await on.untilCounts('0 of');
}

/** The words of the first element that matches; none where there is none. */
const textOf = async (css: string): Promise<string> => (await h.texts(css))[0] ?? '';

/** The outcome of pressing a tool: an action on the Card, a tool in hand, a new piece, or a refusal. */
interface Outcome {
  did?: string;
  refused?: string;
  /** Actions there are, and what is picked, once a refusal is closed. */
  actions: number;
  counts: string;
}

/**
 * Presses a tool in the tray, whatever it is under, and waits for what comes of it; a refusal is read and closed. All
 * of it is one script, as there are hundreds. A button that something lies over is not pressed.
 */
const attempt = (title: string, before: number): Promise<Outcome> =>
  answered(
    driver,
    `const press = (button) => {
       if (!button) return false;
       button.scrollIntoView({ block: 'nearest' });
       const box = button.getBoundingClientRect();
       const top = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2);
       if (!button.contains(top)) return false;
       button.click();
       return true;
     };
     const text = (css) => all(css).map(says)[0] ?? '';
     const own = (window.attempt ??= {});
     if (own.title !== args[0] || own.number !== args[2])
       Object.assign(own, { title: args[0], number: args[2], pressed: false, layer: 0, refused: null });
     if (!own.pressed) {
       const tool = all('.tray [role="group"] button').find((b) => b.title === args[0]);
       if (tool) own.pressed = press(tool);
       else {
         const layer = args[3][own.layer++ % args[3].length];
         press(all('.tray button').find((b) => named(b, layer)));
       }
       return null;
     }
     const actions = Number(all('.lastAction')[0]?.dataset.actions ?? 0);
     if (own.refused === null) {
       const held = text('.toolline b');
       if (held !== 'Select') return { did: held, actions };
       if (all('.rows .row').length > args[4]) return { did: 'a new piece', actions };
       if (actions > args[1]) return { did: text('.lastAction .head b'), actions };
       const refused = text('.notice.problem span');
       if (!refused) return null;
       own.refused = refused;
     }
     if (all('.notice').length) {
       if (!own.closed) own.closed = press(all('.notice button').find((b) => named(b, '✕')));
       return null;
     }
     own.closed = false;
     return { refused: own.refused, actions, counts: text('.count b') };`,
    [title, before, ++attempts, LAYERS, PIECES.length],
    45_000,
    `nothing came of “${title}”`,
  );
let attempts = 0;
const actions = (): Promise<number> =>
  asked(driver, "return Number(all('.lastAction')[0]?.dataset.actions ?? 0)");

async function takeBack(did: string, before: number): Promise<void> {
  if (Object.values(HELD).includes(did)) {
    await on.key(Key.ESCAPE);
    await h.until('the tool put away', async () => (await textOf('.toolline b')) === 'Select');
    return;
  }
  await on.key(Key.CONTROL, 'z');
  await h.until('taken back', async () => (await actions()) === before);
  await h.until('no new piece', async () => (await h.count('.rows .row')) === PIECES.length);
}

for (const level of ['face', 'edge', 'point'] as const)
  describe(`At ${level} level`, () => {
    it('every tool of the tray acts on something, or says why it cannot', async () => {
      await open();
      await take(slab, level);
      const titles = (await on.tools()).filter(
        (t) => !/^(Select|Move|Turn|Resize)/.test(t) && t !== NEEDS_ANOTHER,
      );
      expect(titles.length).toBeGreaterThan(12);
      const left = new Set(titles);
      const wrong: string[] = [];
      for (const piece of PIECES) {
        if (!left.size) break;
        if (piece !== slab) await take(piece, level);
        const before = await actions();
        for (const places of PICKS[level]) {
          // A refusal changes nothing, so the picks are mostly still there for the next tool.
          let picked = '';
          for (const title of left) {
            const here = places.length ? places : [];
            if (piece === holed && level === 'face' && here[0]?.join() === '0,0') continue;
            if (!picked) {
              await nothingPicked(level);
              await pick(here);
              picked = await on.counts();
            }
            const { did, refused, actions: now, counts } = await attempt(title, before);
            if (refused !== undefined) {
              if (!/^[A-Z“].*\.$/s.test(refused)) wrong.push(`${title}: ${refused}`);
              if (now !== before) wrong.push(`${title} was refused, yet something changed`);
              // Some refusals pick what they are about.
              if (counts !== picked) picked = '';
              continue;
            }
            const expected = HELD[title] ?? AT[level][title] ?? LEAVES[title] ?? title;
            if (did !== expected && !(title.startsWith('Take faces off') && did === 'a new piece'))
              wrong.push(`${title} did ${did}`);
            left.delete(title);
            await takeBack(did!, before);
            // Mostly the picks are there again, too.
            if ((await on.counts()) !== picked) picked = '';
          }
        }
      }
      expect({ wrong, neverActed: [...left] }).toEqual({ wrong: [], neverActed: [] });
    }, 400_000);
  });
