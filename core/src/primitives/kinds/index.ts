/** All primitives. A new one is a file beside these and a line here. */
import { box } from './box';
import { cone } from './cone';
import { cylinder } from './cylinder';
import { disc } from './disc';
import { outline } from './outline';
import { plane } from './plane';
import { quadSphere } from './quadSphere';
import { sphere } from './sphere';
import { text } from './text';
import { torus } from './torus';
import { tube } from './tube';

export const KINDS = [
  box,
  cylinder,
  cone,
  sphere,
  quadSphere,
  torus,
  tube,
  plane,
  disc,
  outline,
  text,
] as const;
