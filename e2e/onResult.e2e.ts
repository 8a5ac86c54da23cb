/** Editing what is seen: picks on the result, edits by hand there, and what becomes of them when numbers change. */
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import type { StepOfKind } from '@urnsmith/core/steps/index';
import { atBench } from './atBench';

const { on, h } = await atBench();

const plate: Piece[] = [
  {
    id: 'a',
    name: 'Plate',
    base: { primitive: 'box', width: 120, height: 30, depth: 80 },
    steps: [{ id: 's1', kind: 'cut', mode: 'subtract', cutters: ['h'] }],
  },
  { id: 'h', name: 'Hole', role: 'cutter', parent: 'a', base: { primitive: 'cylinder', radius: 16, height: 90, sides: 12 } },
]; // prettier-ignore

const hand = async (): Promise<StepOfKind<'hand'>> => {
  const step = (await on.stored())[0].steps!.find((s) => s.kind === 'hand');
  return step as StepOfKind<'hand'>;
};

describe('the result', () => {
  it('is what is picked on: a face with a hole as one, the wall of the hole, not the base', async () => {
    await on.open('Plate', plate);
    await h.pick('Plate');
    await on.key('8');
    // Two parts of the top, which a cut leaves for its hole, and twelve facets of the hole.
    await on.untilCounts('0 of 20 faces');
    await on.clickAt(-170, -60);
    await on.untilCounts('2 of 20 faces');
    await h.press('at the base', '.ov');
    await on.untilCounts('0 of 6 faces');
    await h.press('on the result', '.ov');
    await on.untilCounts('0 of 20 faces');
  });

  it('is edited in a step of its own, retuned, and follows numbers upstream', async () => {
    await on.clickAt(-170, -60);
    await on.untilCounts('2 of 20 faces');
    await on.act('Inset', 'e');
    await h.until('a step of edits', async () => (await hand())?.actions.length === 1);
    await h.type('Thickness', '4');
    await on.act('Extrude', 'w');
    await h.until('two edits', async () => (await hand()).actions.length === 2);
    await h.type('Distance', '6');
    expect(await hand()).toMatchObject({
      kind: 'hand',
      pin: 'Cut',
      actions: [
        { op: 'inset', thickness: 4, select: { rule: 'picked', of: 'faces' } },
        { op: 'extrude', distance: 6, select: { rule: 'picked', of: 'faces' } },
      ],
    });
    // The base is as it was.
    expect((await on.stored())[0].actions).toBeUndefined();
    expect(await h.text('[data-lane="Cut"]')).toContain('By hand\n2 edits');
    const height = async (): Promise<number> => {
      const p = (await on.exported()).positions;
      return Math.max(...p.filter((_, i) => i % 3 === 1));
    };
    // An early number changes: the edits go along.
    await on.key('7');
    await h.pick('Plate');
    await h.type('Height', '40');
    await h.saved();
    expect(await height()).toBeCloseTo(26, 4);
  });

  it('says when the face of an edit is gone, and takes another that is picked anew', async () => {
    await on.open('Lost', plate);
    await h.pick('Plate');
    await on.key('8');
    await on.untilCounts('0 of 20 faces');
    // A facet of the wall of the hole, which no base has.
    await on.clickAt(-10, -65);
    await on.untilCounts('1 of 20 faces');
    await on.act('Extrude', 'w');
    await h.until('a step of edits', async () => (await hand())?.actions.length === 1);
    const [first] = (await hand()).actions;
    await on.key('7');
    await h.click('[data-lane="Cut"] .bead');
    await h.click('.card .row2 .check input');
    await h.until('the cut off', async () => (await on.stored())[0].steps![0].off === true);
    await h.pick('Plate');
    const beads = await h.driver.findElements({ css: '[data-lane="Cut"] .bead' });
    await beads[1].click();
    await h.until('the loss told', async () => (await h.text('.edits')).includes('is not there any more'));
    await h.press('Pick anew', '.edits');
    await on.untilCounts('0 of 6 faces');
    await on.clickAt(-170, -60);
    await on.untilCounts('1 of 6 faces');
    await h.press('Use the picks');
    await h.until('other picks', async () => JSON.stringify((await hand()).actions[0].select) !== JSON.stringify(first.select)); // prettier-ignore
    expect((await hand()).actions[0]).toMatchObject({ op: 'extrude', select: { rule: 'picked', of: 'faces', picks: [{ facing: [0, 1, 0] }] } }); // prettier-ignore
    await h.until('ten faces', async () => /\b10 faces/.test(await h.text('.count')) || (await on.counts()).includes('of 10 faces')); // prettier-ignore
  });

  it('has its picked edges rounded by a step that finds them again', async () => {
    await on.open('Rounded', plate);
    await h.pick('Plate');
    await on.key('9');
    await on.untilCounts('0 of 52 edges');
    // The upper front edge.
    await on.clickAt(-90, 22);
    await on.untilCounts('1 of 52 edges');
    await h.find('Round edges, where picked');
    await h.until('a rounding', async () => (await on.stored())[0].steps!.length === 2);
    expect((await on.stored())[0].steps![1]).toMatchObject({ kind: 'bevel', scope: { rule: 'picked', of: 'edges' } }); // prettier-ignore
  });
});
