/**
 * The hands on the stage: orbiting, picking, boxing, and dragging pieces by handles or freely. Pure pointer
 * logic; what a drag does to the document is in `drag.ts`.
 */
import { Plane, Vector3 } from 'three';
import type { Grip } from './Gizmo';
import type { Outline, PointedAt } from './pointing';
import type { Snap } from './snapping';
import type { Stage } from './Stage';

export interface DragStart {
  grip: Grip;
  /** Unit axes of the handles, in the world. */
  axes: Vector3[];
  pivot: Vector3;
  /** The place that meets what is snapped to. */
  held: Vector3;
}

/** How far a drag has gone: along the axes (mm), about an axis (degrees), or as factors. */
export interface DragValue {
  tool: Grip['tool'];
  axes: number[];
  move: [number, number, number];
  degrees: number;
  factors: [number, number, number];
  /** What a move came to lie on. */
  met?: Snap['kind'];
}

export interface HandsHost {
  tool(): 'select' | 'move' | 'turn' | 'resize';
  /** With what a drag snaps; grid 0 leaves moves free where nothing is met. */
  snap(): { on: boolean; grid: number; angle: number };
  /** What is snapped to under the pointer, in the world. */
  snapAt(x: number, y: number): Snap | null;
  /** The place of what is held that is to meet what is snapped to; the handles' own without. */
  heldAt(x: number, y: number): Vector3 | null;
  showSnap(s: Snap | null): void;
  /** A drawing tool takes a press: as a click, or as the beginning of a stroke; null when none is in hand. */
  drawPress(x: number, y: number, e: PointerEvent): 'click' | 'stroke' | null;
  drawStroke(from: { x: number; y: number }, to: { x: number; y: number }, done: boolean): void;
  /** The wheel while dragging; true when it meant something. */
  dragWheel(steps: number): boolean;
  selected(): string[];
  click(piece: string | null, add: boolean): void;
  box(ids: string[], add: boolean): void;
  /** Elements instead of pieces are handled. */
  elements: ElementHost;
  hover(piece: string | null): void;
  rubber(rect: { x: number; y: number; w: number; h: number } | null): void;
  dragStart(): DragStart['axes'] | null;
  dragged(v: DragValue): void;
  dropped(): void;
  aborted(): void;
  menu(x: number, y: number): void;
}

/** The same for elements of the piece in hand. */
export interface ElementHost {
  active(): boolean;
  at(x: number, y: number): PointedAt | null;
  isPicked(element: number): boolean;
  point(at: PointedAt | null): void;
  click(at: PointedAt | null, add: boolean): void;
  twice(at: PointedAt | null, add: boolean, across: boolean): void;
  inside(outline: Outline, add: boolean): Promise<void>;
  paint(at: PointedAt): void;
  lasso(outline: Outline | null): void;
  toolMove(x: number, y: number, e: { shiftKey: boolean }): void;
}

type Mode =
  | { kind: 'idle' }
  | { kind: 'orbit' | 'pan'; x: number; y: number; moved: boolean }
  | {
      kind: 'press';
      x: number;
      y: number;
      piece: string | null;
      element: PointedAt | null;
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
      grabbed: Vector3;
      last: DragValue | null;
      at: { x: number; y: number };
    };

const CLICK_SLACK = 4;

export class Hands {
  private mode: Mode = { kind: 'idle' };
  private constraint: { axes: number[] } | null = null;
  private readonly undo: Array<() => void> = [];
  private hoverFrame = 0;

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
    // What was begun on the stage goes on wherever the pointer goes.
    on(c, 'pointermove', (e) => this.mode.kind === 'idle' && this.moveTo(e));
    on(window, 'pointermove', (e) => this.mode.kind !== 'idle' && this.moveTo(e));
    on(window, 'pointerup', (e) => this.mode.kind !== 'idle' && this.up(e));
    on(window, 'pointercancel', () => this.abort());
    on(c, 'pointerleave', () => this.mode.kind === 'idle' && this.host.hover(null));
    on(c, 'dblclick', (e) => this.twice(e));
    on(c, 'contextmenu', (e) => e.preventDefault());
    // Over a handle that floats on the model the wheel means the model.
    on(c.parentElement ?? c, 'wheel', (e) => this.wheel(e), { passive: false });
    on(window, 'keydown', (e) => this.key(e), { capture: true });
  }

  dispose(): void {
    cancelAnimationFrame(this.hoverFrame);
    for (const f of this.undo) f();
  }

  get busy(): boolean {
    return this.mode.kind !== 'idle';
  }

  private down(e: PointerEvent): void {
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
    const drawing = this.host.drawPress(x, y, e);
    if (drawing === 'stroke') this.mode = { kind: 'stroke', x, y };
    if (drawing) return;
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

  /** A second click right after the first: everything along the run through the element. */
  private twice(e: MouseEvent): void {
    const { elements } = this.host;
    if (elements.active()) elements.twice(elements.at(e.clientX, e.clientY), e.shiftKey, e.altKey);
  }

  private beginDrag(grip: Grip, x: number, y: number, held: Vector3 | null = null): boolean {
    const axes = this.host.dragStart();
    if (!axes) return false;
    const pivot = this.stage.gizmo.root.position.clone();
    const start = { grip, axes, pivot, held: held ?? pivot };
    this.constraint = null;
    this.mode = {
      kind: 'drag',
      start,
      from: { x, y },
      at: { x, y },
      grabbed: this.grab(start, grip.axes, x, y),
      last: null,
    };
    return true;
  }

  private moveTo(e: PointerEvent): void {
    const { clientX: x, clientY: y } = e;
    this.stage.pointerAt = { x, y };
    const m = this.mode;
    switch (m.kind) {
      case 'idle':
        this.hoverSoon(x, y, e.shiftKey);
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
        this.startFromPress(m, x, y);
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
        this.host.drawStroke({ x: m.x, y: m.y }, { x, y }, false);
        return;
      case 'drag':
        m.at = { x, y };
        this.drag(e.ctrlKey || e.metaKey);
    }
  }

  /** With a tool in hand, a selected piece is dragged by its body; anything else draws a box. */
  private startFromPress(m: Mode & { kind: 'press' }, x: number, y: number): void {
    const tool = this.host.tool();
    const held = m.element
      ? this.host.elements.isPicked(m.element.element) && m.gesture === 'box'
      : m.piece !== null && this.host.selected().includes(m.piece);
    if (tool === 'move' && held) {
      if (this.beginDrag({ tool: 'move', axes: [0, 1, 2] }, m.x, m.y, this.host.heldAt(m.x, m.y))) {
        const drag = this.mode as Mode & { kind: 'drag' };
        drag.at = { x, y };
        this.drag(false);
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
      if (elements.active()) elements.click(m.element, m.add);
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
      this.host.drawStroke({ x: m.x, y: m.y }, { x: e.clientX, y: e.clientY }, true);
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

  private wheel(e: WheelEvent): void {
    if ((e.target as Element).closest('.ov')) return;
    e.preventDefault();
    const lines = e.deltaMode === 1 ? e.deltaY * 33 : e.deltaY;
    if (this.mode.kind === 'drag' && this.host.dragWheel(lines / 100)) return this.drag(false);
    this.stage.rig.zoom(Math.exp(lines * 0.0012), this.stage.pointer(e.clientX, e.clientY));
    this.stage.redraw();
  }

  /** While dragging: X, Y, Z hold to an axis, with Shift to the plane across it; Escape lets go. */
  private key(e: KeyboardEvent): void {
    if (this.mode.kind !== 'drag') return;
    const axis = 'xyz'.indexOf(e.key.toLowerCase());
    if (e.key === 'Escape') this.abort();
    else if (axis >= 0 && e.key.length === 1) {
      const axes = e.shiftKey ? [0, 1, 2].filter((k) => k !== axis) : [axis];
      this.constraint = this.constraint?.axes.join() === axes.join() ? null : { axes };
      const m = this.mode;
      m.grabbed = this.grab(m.start, this.axesOf(m.start), m.from.x, m.from.y);
      this.drag(e.ctrlKey);
    } else return;
    e.preventDefault();
    e.stopPropagation();
  }

  private axesOf(start: DragStart): number[] {
    return this.constraint?.axes ?? start.grip.axes;
  }

  private drag(invertSnap: boolean): void {
    const m = this.mode as Mode & { kind: 'drag' };
    const axes = this.axesOf(m.start);
    const now = this.grab(m.start, axes, m.at.x, m.at.y);
    const snap = this.host.snap();
    const on = snap.on !== invertSnap;
    const value: DragValue = {
      tool: m.start.grip.tool,
      axes,
      move: [0, 0, 0],
      degrees: 0,
      factors: [1, 1, 1],
    };
    if (value.tool === 'move') {
      const met = on ? this.host.snapAt(m.at.x, m.at.y) : null;
      this.host.showSnap(met);
      const d = met ? met.at.clone().sub(m.start.held) : now.clone().sub(m.grabbed);
      if (met) value.met = met.kind;
      m.start.axes.forEach((a, i) => {
        if (axes.length < 3 && !axes.includes(i)) return;
        const along = d.dot(a);
        const pixel = this.stage.rig.pixelSize(m.start.pivot);
        if (met) value.move[i] = along;
        else if (on && snap.grid) value.move[i] = Math.round(along / snap.grid) * snap.grid;
        else value.move[i] = tidy(along, pixel);
      });
    } else if (value.tool === 'turn') {
      value.axes = [axes[0]];
      const degrees = this.angle(m.start, axes[0], m.grabbed, now);
      value.degrees = on ? Math.round(degrees / snap.angle) * snap.angle : Math.round(degrees * 10) / 10;
    } else this.resize(m, axes, now, on, value);
    m.last = value;
    this.host.dragged(value);
  }

  private resize(
    m: Mode & { kind: 'drag' },
    axes: number[],
    now: Vector3,
    on: boolean,
    value: DragValue,
  ): void {
    const { pivot } = m.start;
    const step = on ? 0.1 : 0.01;
    const quantize = (f: number): number => Math.max(0.01, Math.round(f / step) * step);
    if (axes.length === 3) {
      const pixels = m.at.x - m.from.x - (m.at.y - m.from.y);
      const f = quantize(Math.exp(pixels / 160));
      value.factors = [f, f, f];
      return;
    }
    for (const i of axes) {
      const a = m.start.axes[i];
      const from = m.grabbed.clone().sub(pivot).dot(a);
      const to = now.clone().sub(pivot).dot(a);
      value.factors[i] = Math.abs(from) < 1e-6 ? 1 : quantize(to / from);
    }
  }

  /** The point a drag has hold of: on the axis, on the plane of two axes, or facing the viewer. */
  private grab(start: DragStart, axes: number[], x: number, y: number): Vector3 {
    const ray = this.stage.rig.ray(this.stage.pointer(x, y));
    const { pivot } = start;
    if (start.grip.tool === 'turn') {
      const plane = new Plane().setFromNormalAndCoplanarPoint(start.axes[axes[0]], pivot);
      return ray.intersectPlane(plane, new Vector3()) ?? pivot.clone();
    }
    if (axes.length === 1) return nearestOnAxis(ray.origin, ray.direction, pivot, start.axes[axes[0]]);
    const normal =
      axes.length === 2 ? start.axes[[0, 1, 2].find((k) => !axes.includes(k))!] : this.stage.rig.back.clone();
    const plane = new Plane().setFromNormalAndCoplanarPoint(normal, pivot);
    return ray.intersectPlane(plane, new Vector3()) ?? pivot.clone();
  }

  private angle(start: DragStart, axis: number, from: Vector3, to: Vector3): number {
    const a = from.clone().sub(start.pivot);
    const b = to.clone().sub(start.pivot);
    const n = start.axes[axis];
    return (Math.atan2(new Vector3().crossVectors(a, b).dot(n), a.dot(b)) * 180) / Math.PI;
  }

  private hoverSoon(x: number, y: number, shiftKey: boolean): void {
    cancelAnimationFrame(this.hoverFrame);
    this.hoverFrame = requestAnimationFrame(() => {
      const hit = this.stage.gizmo.hit(this.stage.aim(x, y));
      if (this.stage.gizmo.light(hit?.object ?? null)) this.stage.redraw();
      this.stage.canvas.style.cursor = hit ? 'grab' : '';
      const { elements } = this.host;
      if (!elements.active()) this.host.hover(hit ? null : (this.stage.pick(x, y)?.piece ?? null));
      else {
        elements.point(hit ? null : elements.at(x, y));
        elements.toolMove(x, y, { shiftKey });
      }
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

/** Rounds to what a pixel can tell: no drag ends on 12.000381. */
function tidy(x: number, pixel: number): number {
  const step = 10 ** Math.floor(Math.log10(Math.max(1e-4, pixel)));
  return Number((Math.round(x / step) * step).toFixed(6));
}

export function nearestOnAxis(origin: Vector3, direction: Vector3, pivot: Vector3, axis: Vector3): Vector3 {
  const w = origin.clone().sub(pivot);
  const b = direction.dot(axis);
  const denominator = 1 - b * b;
  if (denominator < 1e-6) return pivot.clone();
  const t = (w.dot(axis) - b * w.dot(direction)) / denominator;
  return pivot.clone().addScaledVector(axis, t);
}
