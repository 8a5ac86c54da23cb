/** All kinds of live step. A new one is a file here and a line in this list. */
import { bent } from './bent';
import { bevel } from './bevel';
import { cast } from './cast';
import { cut } from './cut';
import { hand } from './hand';
import { marks } from './marks';
import { mirror } from './mirror';
import { normals } from './normals';
import { repeat } from './repeat';
import { smooth } from './smooth';

export const STEP_LIST = [cut, bevel, marks, mirror, repeat, hand, smooth, normals, cast, bent] as const;
