/** All questions that are worked out aside. A new one is a file beside these and a line in this list. */
import { faultOf, type Fault } from '@urnsmith/core/mesh/errors';
import { Stopped } from '@urnsmith/core/watch';
import { isStopped, STOPPED } from '../../stopping';
import type { BuiltMeshes } from './define';
import { asBuilt } from './asBuilt';
import { repair } from './repair';
import { leads } from './leads';
import { shading } from './shading';
import { soundness } from './soundness';

const ALL = [shading, leads, repair, asBuilt, soundness] as const;

type Kinds = (typeof ALL)[number];

/** Asked of what is built as it is. */
export type AsideQuestion = {
  [K in Kinds as K['kind']]: { kind: K['kind'] } & Parameters<K['answer']>[0];
}[Kinds['kind']];
export type AsideReply = ReturnType<Kinds['answer']> | { fault: Fault };

const QUESTIONS = new Map<string, Kinds>(ALL.map((q) => [q.kind, q]));

export const isAside = (question: { kind: string }): question is AsideQuestion =>
  QUESTIONS.has(question.kind);

/** @param stop ends the work; the reply then says that it was stopped */
export function replyAside(question: AsideQuestion, of: BuiltMeshes, stop: Int32Array | null): AsideReply {
  const { answer } = QUESTIONS.get(question.kind)!;
  const watch = (): void => {
    if (isStopped(stop)) throw new Stopped();
  };
  try {
    return (answer as (q: AsideQuestion, of: BuiltMeshes, watch: () => void) => AsideReply)(
      question,
      of,
      watch,
    );
  } catch (e) {
    return { fault: e instanceof Stopped ? STOPPED : faultOf(e) };
  }
}
