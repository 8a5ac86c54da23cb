/** Commands that start operations on what is picked, from the tools the operations state. */
import type { OpenScene } from '../state/OpenScene';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import type { AnyOperation } from '@urnsmith/core/ops/operation';
import type { Hand, Tool } from '@urnsmith/core/ops/tool';
import type { ElementKind } from '@urnsmith/core/select/selection';
import type { ElementLevel } from '../state/handSlice';
import { settingActions } from '../state/settingSlice';
import { act } from '../state/elements';
import { actBeside, actOnto } from '../state/normalsInHand';
import { inHand } from '../state/inHand';
import { modeIn } from '../state/mode';
import { finishDrawing, putDrawingAway, takeDrawing } from '../hands/drawing';
import type { Command } from '../state/command';
import { gapOf, pegAxis, rightOfView, roundShare, towardEye } from './seenFrom';

export const picked = (scene: OpenScene): boolean => (inHand(scene)?.selection.indices.length ?? 0) > 0;
export const editing = (scene: OpenScene): boolean => inHand(scene) !== null;

const LEVEL: Record<ElementKind, ElementLevel> = { face: 'face', edge: 'edge', vertex: 'point' };

/** A tool with the operation it starts. */
interface Start {
  op: AnyOperation;
  tool: Tool;
}

const kindsOf = ({ op, tool }: Start): ReadonlyArray<ElementKind> => tool.at ?? op.on;

/** @param id the piece in whose frame directions are */
function hand(scene: OpenScene, kind: ElementKind, id: string): Hand {
  return {
    kind,
    share: (part, each) => roundShare(scene, part, each),
    gap: () => gapOf(scene),
    peg: () => pegAxis(scene, id),
    eye: () => towardEye(scene, id),
    right: () => rightOfView(scene, id),
  };
}

/** Starts of one name, the first that suits what is picked before the others. */
function run(scene: OpenScene, starts: Start[]): void {
  const kind = inHand(scene)?.selection.kind ?? 'face';
  const start = starts.find((s) => kindsOf(s).includes(kind)) ?? starts[0];
  const { op, tool } = start;
  const drawing = modeIn(scene.store.getState(), 'draw');
  // In hand already, it takes what is picked: never what happens to be picked when it is taken in hand.
  const onPicks =
    tool.actsOnPicks && drawing?.tool === tool.draws && picked(scene) && kindsOf(start).includes(kind);
  if (tool.draws && !onPicks) {
    const stage = scene.stage;
    const drawn = drawing?.tool === tool.draws && drawing.lines.some((l) => l.length > 1);
    if (drawn && stage) void finishDrawing(scene, stage);
    else void takeDrawing(scene, tool.draws);
    return;
  }
  if (onPicks) putDrawingAway(scene);
  if (tool.shows) scene.store.dispatch(settingActions.elementSettings({ [tool.shows]: true }));
  const first = (id: string) => tool.start?.(hand(scene, kind, id)) ?? {};
  if (tool.beside) void actBeside(scene, op.kind, first);
  else if (tool.surface) void actOnto(scene, op.kind, first);
  else void act(scene, op.kind, first, tool.onAll && { rule: 'all', of: 'edges' }, false);
}

function command(id: string, starts: Start[]): Command {
  const tools = starts.map((s) => s.tool);
  const titled = starts.find((s) => s.tool.title) ?? starts[0];
  const card = starts.filter((s) => !s.tool.keyOnly).flatMap((s) => kindsOf(s).map((k) => LEVEL[k]));
  const first = <K extends 'short' | 'words'>(key: K): Pick<Tool, K> | object => {
    const t = tools.find((x) => x[key]);
    return t ? { [key]: t[key] } : {};
  };
  return {
    id: `edit-${id}`,
    title: titled.tool.title ?? titled.op.title,
    group: 'Edit',
    // A face can be drawn with nothing in hand: it becomes a piece.
    ...(!tools.some((t) => t.draws === 'face') && { when: 'elements' as const }),
    ...first('short'),
    ...first('words'),
    ring: Object.assign({}, ...tools.map((t) => t.ring)),
    next: Object.assign({}, ...tools.map((t) => t.next)),
    card,
    enabled: tools.some((t) => t.draws === 'face')
      ? undefined
      : tools.some((t) => t.draws || t.onAll)
        ? editing
        : picked,
    run: (scene) => run(scene, starts),
  };
}

const byName = new Map<string, Start[]>();
for (const op of Object.values(OPERATIONS))
  for (const tool of op.tools ?? [{}]) {
    const id = tool.id ?? op.kind;
    byName.set(id, [...(byName.get(id) ?? []), { op, tool }]);
  }

export const TOOL_COMMANDS: Command[] = [...byName].map(([id, starts]) => command(id, starts));
