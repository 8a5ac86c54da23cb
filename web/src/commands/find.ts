/** Finding commands by what a person types: starts of words first, other words people try after, noise never. */
import { PRIMITIVES } from '@urnsmith/core/primitives/index';
import { STEPS } from '@urnsmith/core/steps/steps';
import type { Command } from './command';

/** Words people try that are not in a command's name, by its id. */
const OTHER_WORDS: Record<string, string> = {
  'cut-subtract': 'boolean difference hole minus remove',
  'cut-union': 'boolean add combine merge join plus',
  'cut-intersect': 'boolean overlap common',
  round: 'bevel fillet chamfer soften',
  normals: 'shading weighted smooth hard clean',
  smooth: 'subdivide subdivision soften',
  duplicate: 'copy clone',
  'repeat-duplicate': 'array again copy pattern',
  join: 'merge combine attach',
  separate: 'split detach loose parts',
  delete: 'remove erase',
  group: 'parent folder nest',
  hide: 'visibility show',
  faint: 'ghost transparent see',
  isolate: 'solo focus only',
  frame: 'zoom focus fit view',
  'frame-all': 'zoom fit view home',
  parallel: 'orthographic ortho perspective camera',
  wire: 'wireframe edges mesh',
  xray: 'see transparent',
  settle: 'apply freeze bake transform scale reset',
  snap: 'magnet grid',
  undo: 'back revert',
  redo: 'again forward',
  history: 'versions milestones actions log restore snapshot',
  'seat-grid': 'construction align',
  'seat-peg': 'pivot origin cursor axis',
  'level-piece': 'objects parts',
  'level-face': 'polygons faces',
  'level-edge': 'edges',
  'level-point': 'vertex vertices points',
  'edit-extrude': 'pull push raise',
  'edit-inset': 'offset border',
  'edit-bevel': 'chamfer round fillet',
  'edit-supportLoops': 'holding edges control loops',
  'edit-ringCut': 'cut slice divide insert',
  'edit-makeRound': 'circle circular arc round',
  'edit-mirrorOnce': 'symmetry flip reflect',
  'edit-fill': 'cap hole close face',
  'edit-fillGrid': 'patch quads hole',
  'edit-bridge': 'connect tunnel loft',
  'edit-weld': 'merge vertices distance',
  'edit-weldMiddle': 'merge vertices center',
  'edit-collapse': 'merge',
  'edit-knife': 'cut draw slice',
  'edit-planeSlice': 'cut section',
  'edit-remove': 'erase dissolve',
  'edit-removeOther': 'dissolve erase',
  'edit-detach': 'separate split part',
  'edit-thicken': 'shell thickness',
  'edit-turnOver': 'flip reverse normals invert',
  'edit-faceOutward': 'flip normals outside',
  'edit-triangulate': 'triangles',
  'edit-pairTriangles': 'triangles quads',
  'edit-spaceEvenly': 'distribute even',
  'edit-straighten': 'line align',
  'edit-flatten': 'planar align level',
  'edit-relax': 'smooth',
  'edit-push': 'inflate shrink',
  'edit-splitApart': 'separate detach',
  'edit-copyFaces': 'copy clone',
  'pick-loop': 'edges around',
  'pick-ring': 'edges across',
  'pick-shell': 'connected island whole',
  'pick-grow': 'more expand',
  'pick-shrink': 'less contract',
  'pick-invert': 'inverse others',
  'pick-alike': 'similar same',
  soft: 'falloff gradual',
  'look-normals': 'face orientation direction',
  'look-facing': 'orientation backfaces flipped',
  'look-drift': 'shading errors check',
  'look-gloss': 'reflection shiny zebra',
  'go-crate': 'export save file glb gltf obj stl ply download',
  'go-scenes': 'open library files import home',
};

/** What kinds of step and of primitive say of themselves. */
const OWN_WORDS = new Map<string, string>([
  ...Object.values(STEPS).flatMap(({ kind, adds }) =>
    adds?.words ? [[`add-step-${kind}`, adds.words] as const] : [],
  ),
  ...Object.values(PRIMITIVES).flatMap(({ kind, words }) => (words ? [[`add-${kind}`, words] as const] : [])),
]);

const words = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/**
 * How well a command answers what was typed: 0 for not at all. Every word typed must begin a word of the name or of
 * the other words; the name counts more than those, its first word most, and short names before long ones.
 */
export function rank(command: Pick<Command, 'id' | 'title'>, typed: string): number {
  const asked = words(typed);
  if (!asked.length) return 1;
  const name = words(command.title);
  const other = words(OTHER_WORDS[command.id] ?? OWN_WORDS.get(command.id) ?? '');
  let sum = 0;
  let named = false;
  for (const [i, w] of asked.entries()) {
    const at = name.findIndex((n) => n.startsWith(w));
    if (at >= 0) {
      named = true;
      sum += (at === i ? 1 : 0.8) + (name[at] === w ? 0.1 : 0);
    } else {
      const word = other.findIndex((o) => o.startsWith(w));
      if (word < 0) return 0;
      // The words that fit best come first in their list.
      sum += (other[word] === w ? 0.6 : 0.5) - 0.02 * word;
    }
  }
  return sum / asked.length / (named ? 1 + 0.01 * name.length : 1);
}

/**
 * Commands that answer, best first; in their own order where they answer alike.
 * @param near those that can act as things are come before others that answer about as well
 */
export function found<C extends Pick<Command, 'id' | 'title'>>(
  commands: ReadonlyArray<C>,
  typed: string,
  near: (c: C) => boolean = () => false,
): C[] {
  return commands
    .map((c, i) => ({ c, i, score: rank(c, typed) }))
    .filter((x) => x.score > 0)
    .map((x) => (near(x.c) ? { ...x, score: x.score + 0.1 } : x))
    .sort((a, b) => b.score - a.score || a.i - b.i)
    .map((x) => x.c);
}
