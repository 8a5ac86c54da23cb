/** Gestures on the stage: each way of pressing, moving and letting go, as the interface hears it. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Vector3 } from 'three';
import { Hands } from '../src/hands/Hands';
import { heldAxes, holdOf } from '../src/hands/heldAxes';
import type { HandsHost, PointedIn } from '../src/hands/HandsHost';
import { TwoFingers } from '../src/hands/TwoFingers';
import type { Stage } from '../src/viewport/Stage';

/** Calls to the host and the stage, in order. */
let said: Array<[name: string, ...args: unknown[]]> = [];
const tells =
  (name: string, answer?: unknown) =>
  (...args: unknown[]): unknown => {
    said.push([name, ...args]);
    return answer;
  };
const names = (): string[] => said.map(([name]) => name);
const argsOf = (name: string): unknown[] => said.findLast(([n]) => n === name)!.slice(1);

const at: PointedIn = { piece: 'a', element: 3, depth: 1, off: 0, at: [0, 0, 0], face: 3 };
/** The state the host reports; each test sets its own. */
let now = {
  tool: 'select',
  mode: null as 'click' | 'stroke' | null,
  elements: false,
  under: null as string | null,
  pointed: null as PointedIn | null,
  picked: false,
  selected: [] as string[],
  grip: false,
  scrolls: 'zoom' as 'zoom' | 'turn',
  wheel: false,
};

class Canvas extends EventTarget {
  parentElement = null;
  style = { cursor: '' };
  setPointerCapture = (): void => {};
}
const AXES = [new Vector3(1, 0, 0), new Vector3(0, 1, 0), new Vector3(0, 0, 1)];
let canvas = new Canvas();
let hands: Hands;

const host = (): HandsHost =>
  ({
    tool: () => now.tool,
    snap: () => ({ on: false, grid: 0, angle: 0 }),
    snapAt: () => null,
    heldAt: () => new Vector3(),
    showSnap: tells('showSnap'),
    modePress: (x: number, y: number) => tells('modePress', now.mode)(x, y),
    modeStroke: tells('modeStroke'),
    modeHover: () => false,
    scrolls: () => now.scrolls,
    dragWheel: (steps: number, drags: boolean) => tells('dragWheel', now.wheel)(steps, drags),
    selected: () => now.selected,
    click: tells('click'),
    box: tells('box'),
    elements: {
      active: () => now.elements,
      at: () => now.pointed,
      isPicked: () => now.picked,
      point: tells('point'),
      click: tells('elementClick'),
      twice: tells('elementTwice'),
      inside: tells('inside'),
      paint: tells('paint'),
      lasso: tells('lasso'),
    },
    hover: tells('hover'),
    twice: tells('twice'),
    rubber: tells('rubber'),
    dragStart: () => tells('dragStart', AXES)(),
    dragged: tells('dragged'),
    dropped: tells('dropped'),
    aborted: tells('aborted'),
    menu: tells('menu'),
  }) as unknown as HandsHost;

const stage = (): Stage =>
  ({
    canvas,
    rig: {
      orbit: tells('orbit'),
      pan: tells('pan'),
      zoom: tells('zoom'),
      back: new Vector3(0, 0, 1),
      axes: () => AXES,
      pixelSize: () => 1,
      ray: (p: { x: number; y: number }) => ({
        origin: new Vector3(p.x, -p.y, 100),
        direction: new Vector3(0, 0, -1),
        intersectPlane: (_: unknown, out: Vector3) => out.set(p.x, -p.y, 0),
        at: (_: number, out: Vector3) => out.set(p.x, -p.y, 0),
        distanceSqToPoint: () => 0,
      }),
    },
    gizmo: {
      root: { position: new Vector3() },
      hit: () => (now.grip ? { grip: { tool: 'move', axes: [0] }, object: null } : null),
      light: () => false,
    },
    pointer: (x: number, y: number) => ({ x, y }),
    aim: () => null,
    pick: () => (now.under ? { piece: now.under } : null),
    inBox: (...box: number[]) => tells('inBox', ['boxed'])(...box),
    redraw: () => {},
  }) as unknown as Stage;

/** An event as the browser would send it. */
function send(target: EventTarget, type: string, props: Record<string, unknown> = {}): Event {
  const event = new Event(type, { cancelable: true });
  Object.assign(event, {
    button: 0,
    pointerId: 1,
    pointerType: 'mouse',
    shiftKey: false,
    ctrlKey: false,
    metaKey: false,
    altKey: false,
    ...props,
  });
  target.dispatchEvent(event);
  return event;
}
const press = (x: number, y: number, more = {}): Event => send(canvas, 'pointerdown', { clientX: x, clientY: y, ...more }); // prettier-ignore
const move = (x: number, y: number, more = {}): Event => send(window, 'pointermove', { clientX: x, clientY: y, ...more }); // prettier-ignore
const letGo = (x: number, y: number, more = {}): Event => send(window, 'pointerup', { clientX: x, clientY: y, ...more }); // prettier-ignore

const first = { ...now };
beforeEach(() => {
  vi.stubGlobal('window', new EventTarget());
  vi.stubGlobal('document', { querySelector: () => null });
  vi.stubGlobal('requestAnimationFrame', (f: () => void) => (f(), 0));
  vi.stubGlobal('cancelAnimationFrame', () => {});
  now = { ...first };
  canvas = new Canvas();
  hands = new Hands(stage(), host());
  said = [];
});
afterEach(() => {
  hands.dispose();
  vi.unstubAllGlobals();
});

describe('on pieces', () => {
  it('a press without moving is a click; Shift and Control add', () => {
    now.under = 'a';
    press(10, 10);
    move(12, 13);
    letGo(12, 13);
    expect(argsOf('click')).toEqual(['a', false]);
    for (const key of ['shiftKey', 'ctrlKey', 'metaKey']) {
      press(10, 10, { [key]: true });
      letGo(10, 10);
      expect(argsOf('click')).toEqual(['a', true]);
    }
    expect(names()).not.toContain('rubber');
  });

  it('a press that moves is a box, from corner to corner', () => {
    press(10, 20);
    move(40, 25);
    expect(argsOf('rubber')).toEqual([{ x: 10, y: 20, w: 30, h: 5 }]);
    move(4, 60);
    expect(argsOf('rubber')).toEqual([{ x: 4, y: 20, w: 6, h: 40 }]);
    letGo(4, 60, { shiftKey: true });
    expect(argsOf('inBox')).toEqual([10, 20, 4, 60]);
    expect([argsOf('box'), argsOf('rubber')]).toEqual([[['boxed'], false], [null]]);
    expect(hands.busy).toBe(false);
  });

  it('a selected piece is dragged with Move, another one is not', () => {
    now = { ...now, tool: 'move', under: 'a', selected: ['a'] };
    press(10, 10);
    move(30, 10);
    letGo(30, 10);
    expect(names().filter((n) => ['dragStart', 'dragged', 'dropped'].includes(n))).toEqual(['dragStart', 'dragged', 'dropped']); // prettier-ignore
    said = [];
    now.selected = ['b'];
    press(10, 10);
    move(30, 10);
    letGo(30, 10);
    expect(names()).not.toContain('dragStart');
  });

  it('a grip is dragged at once; Escape lets go, and letting go without a move changes nothing', () => {
    now.grip = true;
    press(10, 10);
    expect(hands.busy).toBe(true);
    move(20, 10);
    const escape = send(window, 'keydown', { key: 'Escape' });
    expect([argsOf('aborted'), escape.defaultPrevented, hands.busy]).toEqual([[], true, false]);
    letGo(20, 10);
    expect(names()).not.toContain('dropped');
    said = [];
    press(10, 10);
    letGo(10, 10);
    expect(names()).toContain('aborted');
    // Other keys are left to the page, and a modifier makes the drag follow at once.
    press(10, 10);
    move(20, 10);
    said = [];
    expect(send(window, 'keydown', { key: 'x' }).defaultPrevented).toBe(false);
    expect(names()).toEqual([]);
    send(window, 'keydown', { key: 'Shift', shiftKey: true });
    expect(names()).toContain('dragged');
    said = [];
    send(window, 'keyup', { key: 'Shift' });
    expect(names()).toContain('dragged');
  });

  it('the right button turns the view, or opens the ring where it did not move; the middle one shifts it', () => {
    press(10, 10, { button: 2 });
    move(30, 15);
    expect(argsOf('orbit')).toEqual([20, 5]);
    move(31, 17);
    expect(argsOf('orbit')).toEqual([1, 2]);
    letGo(31, 17);
    expect(names()).not.toContain('menu');
    press(10, 10, { button: 2 });
    move(12, 10);
    letGo(12, 10);
    expect(argsOf('menu')).toEqual([12, 10]);
    for (const button of [{ button: 1 }, { button: 2, shiftKey: true }]) {
      said = [];
      press(0, 0, button);
      move(10, 20);
      letGo(10, 20);
      expect(names()).toEqual(['pan']);
      expect(argsOf('pan')).toEqual([10, 20]);
    }
  });

  it('a double click and the pointer leaving are told', () => {
    now.under = 'a';
    send(canvas, 'dblclick', { clientX: 1, clientY: 2 });
    expect(argsOf('twice')).toEqual([{ piece: 'a' }]);
    send(canvas, 'pointerleave');
    expect(argsOf('hover')).toEqual([null]);
    send(canvas, 'pointermove', { clientX: 5, clientY: 5 });
    expect(argsOf('hover')).toEqual([{ piece: 'a' }]);
  });
});

describe('on elements', () => {
  beforeEach(() => {
    now = { ...now, elements: true, pointed: at };
  });

  it('a press is a click on what is under it, a double click takes a run', () => {
    press(7, 8, { shiftKey: true });
    letGo(7, 8);
    expect(argsOf('elementClick')).toEqual([at, true, 7, 8]);
    send(canvas, 'dblclick', { clientX: 1, clientY: 2, shiftKey: true, altKey: false });
    expect(argsOf('elementTwice')).toEqual([at, true, false]);
    send(canvas, 'pointerleave');
    expect(argsOf('point')).toEqual([null]);
  });

  it('a box takes what is inside its four corners', () => {
    press(0, 0);
    move(20, 10);
    letGo(20, 10);
    const corners = [{ x: 0, y: 0 }, { x: 20, y: 0 }, { x: 20, y: 10 }, { x: 0, y: 10 }]; // prettier-ignore
    expect(argsOf('inside')).toEqual([corners, false]);
  });

  it('Alt draws a lasso through every place the pointer passes', () => {
    press(0, 0, { altKey: true });
    move(10, 0, { altKey: true });
    move(10, 10, { altKey: true });
    letGo(10, 10);
    expect(argsOf('inside')).toEqual([[{ x: 0, y: 0 }, { x: 10, y: 0 }, { x: 10, y: 10 }], false]); // prettier-ignore
    expect(argsOf('lasso')).toEqual([null]);
  });

  it('Control paints what it passes, beginning where it was pressed', () => {
    press(0, 0, { ctrlKey: true });
    move(10, 0, { ctrlKey: true });
    expect(said.filter(([n]) => n === 'paint')).toHaveLength(2);
    move(20, 0, { ctrlKey: true });
    now.pointed = null;
    move(30, 0, { ctrlKey: true });
    letGo(30, 0);
    expect(said.filter(([n]) => n === 'paint')).toHaveLength(3);
  });

  it('picked ones are dragged with Move, others boxed', () => {
    now.tool = 'move';
    press(0, 0);
    move(10, 0);
    expect(names()).not.toContain('dragStart');
    letGo(10, 0);
    now.picked = true;
    press(0, 0);
    move(10, 0);
    expect(names()).toContain('dragStart');
    letGo(10, 0);
    said = [];
    press(0, 0, { altKey: true });
    move(10, 0);
    expect(names()).not.toContain('dragStart');
    letGo(10, 0);
  });
});

describe('in a mode', () => {
  it('a press is its own, as a click or as a stroke that goes on to the end', () => {
    now.mode = 'click';
    press(1, 2);
    letGo(1, 2);
    expect(names()).toEqual(['modePress']);
    now.mode = 'stroke';
    press(1, 2);
    move(10, 20);
    expect(argsOf('modeStroke')).toEqual([{ x: 1, y: 2 }, { x: 10, y: 20 }, false]);
    letGo(11, 21);
    expect(argsOf('modeStroke')).toEqual([{ x: 1, y: 2 }, { x: 11, y: 21 }, true]);
  });
});

describe('scrolling', () => {
  const wheel = (more: Record<string, unknown> = {}): Event =>
    send(canvas, 'wheel', {
      deltaX: 0,
      deltaY: 100,
      deltaMode: 0,
      clientX: 3,
      clientY: 4,
      ...more,
    });
  beforeEach(() => {
    // The canvas lies under no bar.
    Object.assign(canvas, { closest: () => null });
  });

  it('zooms to the pointer, by pixels or by lines', () => {
    wheel();
    const [byPixels, to] = argsOf('zoom') as [number, unknown];
    expect([byPixels, to]).toEqual([Math.exp(0.12), { x: 3, y: 4 }]);
    wheel({ deltaY: 2, deltaMode: 1 });
    expect(argsOf('zoom')[0]).toBeCloseTo(Math.exp(66 * 0.0012), 12);
  });

  it('shifts with Shift, turns where that is chosen, and a pinch always zooms', () => {
    wheel({ shiftKey: true, deltaX: 5, deltaY: 7 });
    expect(argsOf('pan')).toEqual([-5, -7]);
    now.scrolls = 'turn';
    wheel({ deltaX: 5, deltaY: 7 });
    expect(argsOf('orbit')).toEqual([-5, -7]);
    wheel({ ctrlKey: true, deltaY: 10 });
    expect(argsOf('zoom')[0]).toBeCloseTo(Math.exp(0.08), 12);
  });

  it('means the reach or a mode where that takes it, and nothing over a bar', () => {
    now.wheel = true;
    wheel({ deltaY: 200 });
    expect(argsOf('dragWheel')).toEqual([2, false]);
    expect(names()).not.toContain('zoom');
    said = [];
    Object.assign(canvas, { closest: () => canvas });
    expect(wheel().defaultPrevented).toBe(false);
    expect(names()).toEqual([]);
  });
});

describe('fingers', () => {
  const touch = (pointerId: number, clientX: number, clientY: number) => ({ pointerId, clientX, clientY, pointerType: 'touch' }); // prettier-ignore

  it('two turn the view by their middle and zoom by how far they are apart', () => {
    press(0, 0, touch(1, 0, 0));
    press(0, 0, touch(2, 100, 0));
    move(0, 0, touch(2, 200, 40));
    expect(argsOf('orbit')).toEqual([50, 20]);
    const [factor, middle] = argsOf('zoom') as [number, unknown];
    expect(factor).toBeCloseTo(100 / Math.hypot(200, 40), 12);
    expect(middle).toEqual({ x: 100, y: 20 });
    // The first press has become no click.
    letGo(0, 0, touch(1, 0, 0));
    letGo(0, 0, touch(2, 0, 0));
    expect(names()).not.toContain('click');
  });

  it('one held down means a right click; a mouse does not', () => {
    press(5, 6, { pointerType: 'touch' });
    send(canvas, 'contextmenu', { clientX: 5, clientY: 6, pointerType: 'touch' });
    expect([argsOf('menu'), hands.busy]).toEqual([[5, 6], false]);
    said = [];
    send(canvas, 'contextmenu', { clientX: 5, clientY: 6, pointerType: 'mouse' });
    expect(names()).toEqual([]);
  });

  it('are counted one by one: a third means nothing, and one alone moves nothing', () => {
    const two = new TwoFingers();
    expect(two.down(touch(1, 0, 0))).toBe(false);
    expect(two.moved(touch(1, 5, 5))).toBeNull();
    expect(two.down({ ...touch(9, 0, 0), pointerType: 'pen' })).toBe(false);
    expect(two.down(touch(2, 10, 0))).toBe(true);
    expect(two.down(touch(3, 10, 0))).toBe(false);
    expect(two.moved(touch(3, 1, 1))).toBeNull();
    expect(two.moved(touch(2, 20, 0))).toEqual({ by: [5, 0], factor: 0.5, middle: { x: 10, y: 0 } });
    // Fingers in one place count as a pixel apart.
    expect(two.moved(touch(2, 0, 0))!.factor).toBe(20);
    two.up(touch(1, 0, 0));
    expect(two.moved(touch(2, 3, 3))).toBeNull();
  });
});

describe('held axes', () => {
  const start = (axes: number[], tool = 'move') => ({ grip: { tool, axes }, axes: AXES }) as never;
  const screen = [new Vector3(1, 0, 0), new Vector3(0, 1, 0), new Vector3(0, 0, 1)] as const;

  it('Shift takes the axis the pointer goes along, Alt the two of the view', () => {
    expect(heldAxes(start([0, 1, 2]), 'axis', { x: 9, y: 2 }, screen)).toEqual([0]);
    expect(heldAxes(start([0, 1, 2]), 'axis', { x: 1, y: -8 }, screen)).toEqual([1]);
    expect(heldAxes(start([0, 1, 2]), 'plane', { x: 1, y: 1 }, screen)).toEqual([0, 1]);
    expect(heldAxes(start([0, 1, 2]), null, { x: 9, y: 2 }, screen)).toEqual([0, 1, 2]);
    expect(heldAxes(start([2]), 'axis', { x: 9, y: 2 }, screen)).toEqual([2]);
    expect(heldAxes(start([0, 1, 2], 'turn'), 'axis', { x: 9, y: 2 }, screen)).toEqual([0, 1, 2]);
    // Along the third axis as it is seen: taken where it is long enough on the screen to be followed.
    const way = { x: 7.2, y: -5.4 };
    const seen = (x: number, y: number): never =>
      ({
        grip: { tool: 'move', axes: [0, 1, 2] },
        axes: [AXES[0], AXES[1], new Vector3(x, y, 1).normalize()],
      }) as never;
    expect(heldAxes(seen(0.4, 0.3), 'axis', way, screen)).toEqual([2]);
    expect(heldAxes(seen(0.08, 0.06), 'axis', way, screen)).toEqual([0]);
    expect([holdOf({ shiftKey: true, altKey: true }), holdOf({ shiftKey: false, altKey: true }), holdOf({ shiftKey: false, altKey: false })]).toEqual(['axis', 'plane', null]); // prettier-ignore
  });
});
