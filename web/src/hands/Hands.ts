/**
 * The hands on the stage: orbiting, picking, boxing, and dragging pieces by handles or freely. Pure pointer
 * logic; what a drag does to the document is in `drag.ts`.
 */
import type { Vector3 } from 'three';
import { dragValue, grabbedAt, type DragStart, type DragValue } from './dragValue';
import type { Grip } from '../viewport/Gizmo';
import { heldAxes, holdOf, type Hold } from './heldAxes';
import type { HandsHost, PointedIn } from './HandsHost';
import type { Outline } from './pointing';
import { TwoFingers } from './TwoFingers';
import type { Stage } from '../viewport/Stage';

type Mode =
  | { kind: 'idle' | 'fingers' }
  | { kind: 'orbit' | 'pan'; x: number; y: number; moved: boolean }
  | {
      kind: 'press';
      x: number;
      y: number;
      piece: string | null;
      element: PointedIn | null;
      add: boolean;
      gesture: 'box' | 'lasso' | 'paint';
    }
  | { kind: 'lasso'; outline: Outline; add: boolean }
  | { kind: 'paint' }
  | { kind: 'stroke'; x: number; y: number }
  | { kind: 'box'; x: number; y: number; add: boolean }
  | {
      kind: 'drag';
      start: DragStart;
      from: { x: number; y: number };
      hold: Hold;
      snapOver: boolean;
      last: DragValue | null;
      at: { x: number; y: number };
    };

const CLICK_SLACK = 4;
/** Zoom per pixel of scrolling, natural logarithm. */
const WHEEL = 0.0012;
const PINCH = 0.008;

export class Hands {
  private mode: Mode = { kind: 'idle' };
  private readonly undo: Array<() => void> = [];
  private hoverFrame = 0;
  private readonly fingers = new TwoFingers();

  constructor(
    private readonly stage: Stage,
    private readonly host: HandsHost,
  ) {
    const c = stage.canvas;
    const on = <K extends keyof HTMLElementEventMap>(
      target: HTMLElement | Window,
      type: K,
      f: (e: HTMLElementEventMap[K]) => unknown,
      options?: AddEventListenerOptions,
    ): void => {
      target.addEventListener(type, f as EventListener, options);
      this.undo.push(() => target.removeEventListener(type, f as EventListener, options));
    };
    on(c, 'pointerdown', (e) => this.down(e));
    // A gesture begun on the stage goes on wherever the pointer goes.
    on(c, 'pointermove', (e) => this.mode.kind === 'idle' && this.moveTo(e));
    on(window, 'pointermove', (e) => this.mode.kind !== 'idle' && this.moveTo(e));
    on(window, 'pointerup', (e) => {
      this.fingers.up(e);
      if (this.mode.kind !== 'idle') this.up(e);
    });
    on(window, 'pointercancel', (e) => {
      this.fingers.up(e);
      this.abort();
    });
    on(c, 'pointerleave', () => this.leave());
    on(c, 'dblclick', (e) => this.twice(e));
    on(c, 'contextmenu', (e) => this.held(e));
    // Over a handle that floats on the model the wheel means the model.
    on(c.parentElement ?? c, 'wheel', (e) => this.wheel(e), { passive: false });
    on(window, 'keydown', (e) => this.key(e), { capture: true });
    on(window, 'keyup', (e) => this.hold(e), { capture: true });
  }

  dispose(): void {
    cancelAnimationFrame(this.hoverFrame);
    for (const f of this.undo) f();
  }

  get busy(): boolean {
    return this.mode.kind !== 'idle';
  }

  private down(e: PointerEvent): void {
    if (this.fingers.down(e)) {
      this.abort();
      this.mode = { kind: 'fingers' };
    }
    if (this.mode.kind !== 'idle') return;
    document.querySelector<HTMLElement>(':focus')?.blur();
    this.stage.canvas.setPointerCapture(e.pointerId);
    const { clientX: x, clientY: y } = e;
    if (e.button === 1 || (e.button === 2 && e.shiftKey)) this.mode = { kind: 'pan', x, y, moved: false };
    else if (e.button === 2) this.mode = { kind: 'orbit', x, y, moved: false };
    else if (e.button === 0) this.press(x, y, e);
  }

  private press(x: number, y: number, e: PointerEvent): void {
    const { elements } = this.host;
    const taken = this.host.modePress(x, y, e);
    if (taken === 'stroke') this.mode = { kind: 'stroke', x, y };
    if (taken) return;
    const hit = this.stage.gizmo.hit(this.stage.aim(x, y));
    if (hit && this.beginDrag(hit.grip, x, y)) return;
    const add = e.shiftKey || e.ctrlKey || e.metaKey;
    if (!elements.active()) {
      const piece = this.stage.pick(x, y)?.piece ?? null;
      this.mode = { kind: 'press', x, y, piece, element: null, add, gesture: 'box' };
      return;
    }
    const gesture = e.altKey ? 'lasso' : e.ctrlKey || e.metaKey ? 'paint' : 'box';
    this.mode = { kind: 'press', x, y, piece: null, element: elements.at(x, y), add, gesture };
  }

  /** The pointer has left the stage. */
  private leave(): void {
    if (this.mode.kind !== 'idle') return;
    cancelAnimationFrame(this.hoverFrame);
    const { elements } = this.host;
    if (elements.active()) elements.point(null);
    else this.host.hover(null);
  }

  /** A second click right after the first: everything along the run through the element. */
  private twice(e: MouseEvent): void {
    const { elements } = this.host;
    if (elements.active()) elements.twice(elements.at(e.clientX, e.clientY), e.shiftKey, e.altKey);
    else this.host.twice(this.stage.pick(e.clientX, e.clientY));
  }

  private beginDrag(grip: Grip, x: number, y: number, held: Vector3 | null = null): boolean {
    const axes = this.host.dragStart();
    if (!axes) return false;
    const pivot = this.stage.gizmo.root.position.clone();
    const start = { grip, axes, pivot, held: held ?? pivot };
    this.mode = {
      kind: 'drag',
      start,
      from: { x, y },
      at: { x, y },
      hold: null,
      snapOver: false,
      last: null,
    };
    return true;
  }

  private moveTo(e: PointerEvent): void {
    const { clientX: x, clientY: y } = e;
    this.stage.pointerAt = { x, y };
    const m = this.mode;
    switch (m.kind) {
      case 'fingers': {
        const moved = this.fingers.moved(e);
        if (!moved) return;
        this.stage.rig.orbit(...moved.by);
        this.stage.rig.zoom(moved.factor, this.stage.pointer(moved.middle.x, moved.middle.y));
        this.stage.redraw();
        return;
      }
      case 'idle':
        this.hoverSoon(x, y, e);
        return;
      case 'orbit':
      case 'pan':
        m.moved ||= Math.hypot(x - m.x, y - m.y) > CLICK_SLACK;
        if (m.kind === 'orbit') this.stage.rig.orbit(x - m.x, y - m.y);
        else this.stage.rig.pan(x - m.x, y - m.y);
        if (m.moved) [m.x, m.y] = [x, y];
        this.stage.redraw();
        return;
      case 'press':
        if (Math.hypot(x - m.x, y - m.y) <= CLICK_SLACK) return;
        this.startFromPress(m, e);
        return;
      case 'box':
        this.host.rubber(rectOf(m, x, y));
        return;
      case 'lasso':
        m.outline.push({ x, y });
        this.host.elements.lasso(m.outline);
        return;
      case 'paint': {
        const at = this.host.elements.at(x, y);
        if (at) this.host.elements.paint(at);
        return;
      }
      case 'stroke':
        this.host.modeStroke({ x: m.x, y: m.y }, { x, y }, false);
        return;
      case 'drag':
        m.at = { x, y };
        m.hold = holdOf(e);
        m.snapOver = e.ctrlKey || e.metaKey;
        this.drag();
    }
  }

  /** With a tool in hand, a selected piece is dragged by its body; anything else draws a box. */
  private startFromPress(m: Mode & { kind: 'press' }, e: PointerEvent): void {
    const { clientX: x, clientY: y } = e;
    const tool = this.host.tool();
    const held = m.element
      ? this.host.elements.isPicked(m.element) && m.gesture === 'box'
      : m.piece !== null && this.host.selected().includes(m.piece);
    if (tool === 'move' && held) {
      if (this.beginDrag({ tool: 'move', axes: [0, 1, 2] }, m.x, m.y, this.host.heldAt(m.x, m.y))) {
        const drag = this.mode as Mode & { kind: 'drag' };
        drag.at = { x, y };
        drag.hold = holdOf(e);
        this.drag();
        return;
      }
    }
    if (m.gesture === 'lasso')
      this.mode = {
        kind: 'lasso',
        outline: [
          { x: m.x, y: m.y },
          { x, y },
        ],
        add: m.add,
      };
    else if (m.gesture === 'paint') {
      this.mode = { kind: 'paint' };
      for (const at of [m.element, this.host.elements.at(x, y)]) if (at) this.host.elements.paint(at);
    } else {
      this.mode = { kind: 'box', x: m.x, y: m.y, add: m.add };
      this.host.rubber(rectOf(m, x, y));
    }
  }

  private up(e: PointerEvent): void {
    const m = this.mode;
    this.mode = { kind: 'idle' };
    const { elements } = this.host;
    if (m.kind === 'press') {
      if (elements.active()) elements.click(m.element, m.add, m.x, m.y);
      else this.host.click(m.piece, m.add);
    } else if (m.kind === 'lasso') {
      elements.lasso(null);
      void elements.inside(m.outline, m.add);
    } else if (m.kind === 'box' && elements.active()) {
      this.host.rubber(null);
      const [a, b] = [
        { x: m.x, y: m.y },
        { x: e.clientX, y: e.clientY },
      ];
      void elements.inside([a, { x: b.x, y: a.y }, b, { x: a.x, y: b.y }], m.add);
    } else if (m.kind === 'box') {
      this.host.rubber(null);
      this.host.box(this.stage.inBox(m.x, m.y, e.clientX, e.clientY), m.add);
    } else if (m.kind === 'stroke') {
      this.host.modeStroke({ x: m.x, y: m.y }, { x: e.clientX, y: e.clientY }, true);
    } else if (m.kind === 'drag') {
      this.host.showSnap(null);
      if (m.last) this.host.dropped();
      else this.host.aborted();
    } else if (m.kind === 'orbit' && !m.moved) this.host.menu(e.clientX, e.clientY);
  }

  private abort(): void {
    if (this.mode.kind === 'drag') this.host.aborted();
    this.host.showSnap(null);
    this.host.rubber(null);
    this.host.elements.lasso(null);
    this.mode = { kind: 'idle' };
  }

  /** A finger or a pen that is held down means what a right click means. */
  private held(e: MouseEvent): void {
    e.preventDefault();
    if (!['touch', 'pen'].includes((e as PointerEvent).pointerType) || this.mode.kind !== 'press') return;
    this.abort();
    this.host.menu(e.clientX, e.clientY);
  }

  private wheel(e: WheelEvent): void {
    if ((e.target as Element).closest('.ov, [data-wheel]')) return;
    e.preventDefault();
    const lines = e.deltaMode === 1 ? e.deltaY * 33 : e.deltaY;
    if (this.host.dragWheel(lines / 100, this.mode.kind === 'drag')) {
      if (this.mode.kind === 'drag') this.drag();
      return;
    }
    const { rig } = this.stage;
    // The browser tells of a pinch as of a wheel with Control, in small steps.
    if (!e.ctrlKey && e.shiftKey) rig.pan(-e.deltaX, -e.deltaY);
    else if (!e.ctrlKey && this.host.scrolls() === 'turn') rig.orbit(-e.deltaX, -e.deltaY);
    else {
      const rate = e.ctrlKey ? PINCH : WHEEL;
      rig.zoom(Math.exp(lines * rate), this.stage.pointer(e.clientX, e.clientY));
    }
    this.stage.redraw();
  }

  /** While dragging, Escape lets go, and a modifier holds to an axis or a plane. */
  private key(e: KeyboardEvent): void {
    if (this.mode.kind !== 'drag') return;
    if (e.key === 'Escape') this.abort();
    else if (!this.hold(e)) return;
    e.preventDefault();
    e.stopPropagation();
  }

  /** A modifier goes down or up: the drag follows at once. */
  private hold(e: KeyboardEvent): boolean {
    const m = this.mode;
    if (m.kind !== 'drag' || !['Shift', 'Alt', 'Control', 'Meta'].includes(e.key)) return false;
    m.hold = holdOf(e);
    m.snapOver = e.ctrlKey || e.metaKey;
    this.drag();
    return true;
  }

  private grab(start: DragStart, axes: number[], x: number, y: number): Vector3 {
    return grabbedAt(this.stage.rig.ray(this.stage.pointer(x, y)), this.stage.rig.back, start, axes);
  }

  private drag(): void {
    const m = this.mode as Mode & { kind: 'drag' };
    const { start, from } = m;
    const axes = heldAxes(start, m.hold, { x: m.at.x - from.x, y: m.at.y - from.y }, this.stage.rig.axes());
    const grabbed = this.grab(start, axes, from.x, from.y);
    const now = this.grab(start, axes, m.at.x, m.at.y);
    const snap = this.host.snap();
    const on = snap.on !== m.snapOver;
    const met = on && start.grip.tool === 'move' ? this.host.snapAt(m.at.x, m.at.y) : null;
    if (start.grip.tool === 'move') this.host.showSnap(met);
    m.last = dragValue(
      start,
      axes,
      { grabbed, now, from, at: m.at },
      {
        ...snap,
        on,
        met,
        pixel: this.stage.rig.pixelSize(start.pivot),
      },
    );
    this.host.dragged(m.last);
  }

  private hoverSoon(x: number, y: number, e: PointerEvent): void {
    const { shiftKey, ctrlKey, metaKey } = e;
    cancelAnimationFrame(this.hoverFrame);
    this.hoverFrame = requestAnimationFrame(() => {
      if (this.host.modeHover(x, y, { shiftKey, ctrlKey, metaKey })) return;
      const hit = this.stage.gizmo.hit(this.stage.aim(x, y));
      if (this.stage.gizmo.light(hit?.object ?? null)) this.stage.redraw();
      this.stage.canvas.style.cursor = hit ? 'grab' : '';
      const { elements } = this.host;
      if (!elements.active()) this.host.hover(hit ? null : this.stage.pick(x, y));
      else elements.point(hit ? null : elements.at(x, y));
    });
  }
}

function rectOf(
  m: { x: number; y: number },
  x: number,
  y: number,
): { x: number; y: number; w: number; h: number } {
  return { x: Math.min(m.x, x), y: Math.min(m.y, y), w: Math.abs(x - m.x), h: Math.abs(y - m.y) };
}
