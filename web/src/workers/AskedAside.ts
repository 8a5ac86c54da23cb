/** Questions that a builder has worked out aside: each once for a result, and stopped when the piece is built anew. */
import * as Comlink from 'comlink';
import { Recent } from '@urnsmith/core/Recent';
import type { Aside } from './aside.worker';
import { replyAside, type AsideQuestion, type AsideReply } from './questions/aside';
import type { BuiltMeshes } from './questions/aside/define';
import { newStopFlag, STOPPED } from './stopping';

interface Asked {
  piece: string;
  kind: string;
  /** Of the result it is about. */
  number: number;
  reply: Promise<AsideReply>;
  stop: Int32Array | null;
  answered: boolean;
}

const ANSWERS = 60;

export class AskedAside {
  private asked = new Recent<Asked>(ANSWERS);

  /** @param worker null where there is none: answered at once, by whoever asks */
  constructor(private readonly worker: Comlink.Remote<Aside> | null) {}

  ask(piece: string, number: number, question: AsideQuestion, of: BuiltMeshes): Promise<AsideReply> {
    const { kind } = question;
    const known = this.asked.find((a) => a.piece === piece && a.kind === kind && a.number === number);
    if (known) return known.reply;
    this.stop(piece, kind);
    const stop = newStopFlag();
    const { mesh, formed, lane } = of;
    const meshes = { mesh, formed, lane };
    const reply = this.worker
      ? this.worker.reply(question, meshes, stop)
      : Promise.resolve(replyAside(question, meshes, stop));
    const asked: Asked = { piece, kind, number, reply, stop, answered: false };
    this.asked.add(asked);
    void reply.then((r) => {
      asked.answered = true;
      if ('fault' in r && r.fault.code === STOPPED.code) this.asked.drop(asked);
    });
    return reply;
  }

  /** Ends what is being worked out about a piece. */
  stop(piece: string, kind?: string): void {
    for (const a of this.asked.all())
      if (a.stop && !a.answered && a.piece === piece && (kind === undefined || a.kind === kind))
        Atomics.store(a.stop, 0, 1);
  }
}
