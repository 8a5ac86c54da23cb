/** All questions to the builder. A new one is a file beside these and a line in this list. */
import type { Fault } from '@urnsmith/core/mesh/errors';
import { act } from './act';
import { anchor } from './anchor';
import type { AsideQuestion, AsideReply } from './aside';
import { bake } from './bake';
import { bakeBuilt } from './bakeBuilt';
import { bodies } from './bodies';
import { born } from './born';
import { convert } from './convert';
import { inside } from './inside';
import { drawnNormals } from './normalLines';
import { normals } from './normals';
import { outline } from './outline';
import { pick } from './pick';
import { recall } from './recall';
import { revise } from './revise';
import { ring } from './ring';
import { shells } from './shells';
import { sides } from './sides';
import { soft } from './soft';
import type { Asked } from './define';

const ALL = [
  act,
  pick,
  convert,
  born,
  bake,
  bakeBuilt,
  recall,
  outline,
  revise,
  normals,
  drawnNormals,
  shells,
  bodies,
  sides,
  anchor,
  inside,
  soft,
  ring,
] as const;

type Kinds = (typeof ALL)[number];

/** Asked beside building, of the builder itself. */
export type DirectQuestion = {
  [K in Kinds as K['kind']]: { kind: K['kind'] } & Parameters<K['answer']>[0];
}[Kinds['kind']];
/** Asked beside building; nothing is changed by it. */
export type Question = DirectQuestion | AsideQuestion;
export type Reply = ReturnType<Kinds['answer']> | AsideReply | { fault: Fault };

const QUESTIONS = new Map<string, (typeof ALL)[number]>(ALL.map((q) => [q.kind, q]));

/** Whether it is about the base, wherever edits are made. */
export const aboutBase = ({ kind }: DirectQuestion): boolean => QUESTIONS.get(kind)!.aboutBase;

/** @throws OperationError */
export const replyTo = (question: DirectQuestion, of: Asked): Reply => {
  const answer = QUESTIONS.get(question.kind)!.answer as (q: DirectQuestion, of: Asked) => Reply;
  return answer(question, of);
};
